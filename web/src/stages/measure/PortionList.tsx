/** What fills a void from the bottom up: one portion, or several colours one on the other. */
import { useState } from "react";
import { Refused } from "../../api/client";
import type { Void } from "../../api/queries";
import { QuantityField, TextField, type Reading } from "../../ui/QuantityField";
import { RecipeField } from "./RecipeField";

type Portion = Void["portions"][number];

interface Props {
  hollow: Void;
  index: number;
  change: (what: string, fn: (hollow: Void) => Void) => Promise<void>;
  nextId: (taken: string[]) => string;
}

export function PortionList({ hollow, index, change, nextId }: Props) {
  const [height, setHeight] = useState<Reading | null>(null);
  const [problem, setProblem] = useState("");
  const set = (what: string, id: string, part: Partial<Portion>) =>
    change(what, (one) => ({
      ...one,
      portions: one.portions.map((portion) => (portion.id === id ? { ...portion, ...part } : portion)),
    }));
  const cut = async () => {
    if (!height) return;
    try {
      // The new colour starts at the height; what was there keeps its place below. Drawn boundaries no
      // longer fit.
      await change("a second colour", (one) => {
        const fresh: Portion = {
          id: nextId(one.portions.map((portion) => portion.id)),
          colour: "",
          to_m: null,
        };
        const kept = one.portions.map((portion, at) => ({
          ...portion,
          boundaries_m: null,
          to_m: at === one.portions.length - 1 ? height : (portion.to_m ?? null),
        }));
        return { ...one, portions: [...kept, fresh] };
      });
      setProblem("");
      setHeight(null);
    } catch (error) {
      setProblem(error instanceof Refused ? error.message : String(error));
    }
  };
  return (
    <fieldset className="border-t border-line pt-2">
      <legend className="float-left w-full text-[13px] font-semibold">Filled from the bottom up</legend>
      <div className="clear-both grid gap-2">
        {hollow.portions.map((portion, at) => {
          const last = at === hollow.portions.length - 1;
          return (
            <div key={portion.id} className="grid grid-cols-2 gap-2">
              <TextField
                label={at === 0 ? "colour" : "then, colour"}
                value={portion.colour ?? ""}
                onCommit={(colour) => set("colour", portion.id, { colour })}
              />
              <RecipeField
                portionId={portion.id}
                recipeId={portion.recipe_id}
                onChoose={(recipe_id, name) =>
                  void set("recipe", portion.id, {
                    recipe_id,
                    ...(portion.colour ? {} : { colour: name }),
                  }).catch(() => undefined)
                }
              />
              {last ? (
                <p className="col-span-2 text-[13px] text-slate">to the fill line</p>
              ) : (
                <QuantityField
                  label="up to"
                  kind="length"
                  reading={portion.to_m}
                  pointer={`/voids/${index}/portions/${at}/to_m`}
                  onCommit={(reading) => set("height of a colour", portion.id, { to_m: reading })}
                />
              )}
            </div>
          );
        })}
        <details>
          <summary className="text-[13px] text-spruce font-semibold cursor-pointer">
            Another colour above
          </summary>
          <div className="grid grid-cols-2 gap-2 items-end mt-1">
            <QuantityField label="starts at height" kind="length" onCommit={setHeight} />
            <button className="key self-start mt-[18px]" disabled={!height} onClick={() => void cut()}>
              Add the colour
            </button>
          </div>
          {problem ? (
            <p role="alert" className="text-rust text-[13px]">
              {problem}
            </p>
          ) : null}
        </details>
      </div>
    </fieldset>
  );
}
