/** By which recipe a portion is coloured; none is clear, or coloured by eye. */
import { useShelfItems } from "../../api/queries";

interface Props {
  portionId: string;
  recipeId: string | null | undefined;
  /** name: of the recipe, for a portion that has no colour's name yet. */
  onChoose: (recipeId: string | null, name: string) => void;
}

export function RecipeField({ portionId, recipeId, onChoose }: Props) {
  const shelfItems = useShelfItems();
  const recipes = Object.values(shelfItems.data?.recipes ?? {});
  return (
    <div>
      <label className="label" htmlFor={`recipe-${portionId}`}>
        by the recipe
      </label>
      <select
        id={`recipe-${portionId}`}
        className="box"
        value={recipeId ?? ""}
        onChange={(event) =>
          onChoose(
            event.target.value || null,
            recipes.find((one) => one.id === event.target.value)?.name.toLowerCase() ?? "",
          )
        }
      >
        <option value="">none: clear, or coloured by eye</option>
        {recipes.map((one) => (
          <option key={one.id} value={one.id}>
            {one.name}
          </option>
        ))}
      </select>
    </div>
  );
}
