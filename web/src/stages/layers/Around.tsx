/** What the heat meets: what covers the fill, how thick the form is, what lies under it, what it stands on,
 *  what stands and shines beside it, how warm it is poured. Typical until somebody says. */
import type { Present } from "../../api/client";
import { useShelfItems, type Piece } from "../../api/queries";
import { Check } from "../../ui/Check";
import { QuantityField, type Reading } from "../../ui/QuantityField";
import { ChoiceField } from "../measure/ShapeFields";
import type { StageProps } from "../props";

type Void = NonNullable<Piece["voids"]>[number];
type Given = NonNullable<Void["around"]>;

export const STANDS: [NonNullable<Given["stands_on"]>, string][] = [
  ["bench", "a wooden bench"],
  ["raised", "cones or blocks, air below"],
  ["foam", "foam or a blanket"],
  ["metal top", "metal or stone"],
];
export const COVERS: [NonNullable<Given["covered"]>, string][] = [
  ["open", "open"],
  ["under a cover", "a cover, air between"],
  ["in a box", "a closed box"],
  ["blanket on top", "a blanket"],
];
const SHINING: [NonNullable<Given["shines"]>, string][] = [
  ["nothing", "nothing"],
  ["sun", "sun by a window"],
  ["lamp", "a lamp near by"],
];
export const WALLS: [NonNullable<Void["wall"]>, string][] = [
  ["wood", "wood"],
  ["board", "coated board"],
  ["silicone", "silicone"],
  ["plastic", "plastic"],
  ["metal", "metal"],
  ["glass", "glass"],
  ["other", "not said"],
];

/** What stands round a void with a part of it changed. */
export function aroundWith(one: Void, part: Partial<Given>): Given {
  return {
    ...one.around,
    wrapped: one.around?.wrapped ?? false,
    fan: one.around?.fan ?? false,
    shines: one.around?.shines ?? "nothing",
    ...part,
  };
}

export function Around({ stored, edits, voidId }: Pick<StageProps, "stored" | "plan" | "edits" | "voidId">) {
  const shelfItems = useShelfItems();
  const index = (stored.piece.voids ?? []).findIndex((one) => one.id === voidId);
  const hollow = (stored.piece.voids ?? [])[index];
  if (!hollow) return null;
  const around: Partial<Given> = hollow.around ?? {};
  const change = (part: Partial<Given>) =>
    edits.edit("what stands round it", (piece) => ({
      ...piece,
      voids: (piece.voids ?? []).map((one) =>
        one.id === voidId ? { ...one, around: aroundWith(one, part) } : one,
      ),
    }));
  const pourAt = (portion: string, pour_c: Reading | null) =>
    edits.edit("pour temperature", (piece) => ({
      ...piece,
      voids: (piece.voids ?? []).map((one) =>
        one.id === voidId
          ? {
              ...one,
              portions: one.portions.map((part) => (part.id === portion ? { ...part, pour_c } : part)),
            }
          : one,
      ),
    }));
  return (
    <details className="mt-4">
      <summary className="quiet">What stands round it</summary>
      <p className="text-[12.5px] text-slate">
        It decides: a cover, or foam under a form that was fine on a board, can make it run away. What you
        leave empty is taken as typical and listed below.
      </p>
      <div className="mt-2 grid grid-cols-2 gap-2">
        <ChoiceField
          choice={{ key: "covered", label: "covered by", options: [["", "not said: open"], ...COVERS] }}
          value={around.covered ?? ""}
          onChoose={(covered) =>
            void change({ covered: (covered || null) as Present<Given["covered"]> }).catch(() => undefined)
          }
        />
        <ChoiceField
          choice={{ key: "shines", label: "shines on it", options: SHINING }}
          value={around.shines ?? "nothing"}
          onChoose={(shines) =>
            void change({ shines: shines as NonNullable<Given["shines"]> }).catch(() => undefined)
          }
        />
        <div className="col-span-2">
          <label className="label" htmlFor="around-material">
            form of the shelf
          </label>
          <select
            id="around-material"
            className="box"
            value={around.material_id ?? ""}
            onChange={(event) =>
              void change({ material_id: event.target.value || null }).catch(() => undefined)
            }
          >
            <option value="">
              none: typical {WALLS.find(([value]) => value === hollow.wall)?.[1] ?? "board"}
            </option>
            {Object.values(shelfItems.data?.materials ?? {}).map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
              </option>
            ))}
          </select>
        </div>
        <QuantityField
          label={hollow.wall === "wood" ? "wood beside it, wide" : "wall, thick"}
          kind="length"
          optional
          reading={around.wall_m as Reading | null}
          onCommit={(wall_m) => change({ wall_m: wall_m })}
        />
        <QuantityField
          label="floor, thick"
          kind="length"
          optional
          reading={around.floor_m as Reading | null}
          onCommit={(floor_m) => change({ floor_m: floor_m })}
        />
        <ChoiceField
          choice={{ key: "floor", label: "floor of", options: [["", "as the wall"], ...WALLS] }}
          value={around.floor ?? ""}
          onChoose={(floor) =>
            void change({ floor: (floor || null) as Present<Given["floor"]> }).catch(() => undefined)
          }
        />
        <ChoiceField
          choice={{ key: "stands", label: "stands on", options: [["", "not said: a bench"], ...STANDS] }}
          value={around.stands_on ?? ""}
          onChoose={(stands_on) =>
            void change({ stands_on: (stands_on || null) as Present<Given["stands_on"]> }).catch(
              () => undefined,
            )
          }
        />
      </div>
      <div className="mt-2 grid grid-cols-2 gap-2">
        <QuantityField
          label="what it stands on is"
          kind="temperature"
          optional
          reading={around.under_c as Reading | null}
          pointer={`/piece/voids/${index}/around/under_c`}
          help="as the room unless said"
          onCommit={(under_c) => change({ under_c: under_c })}
        />
        {(hollow.count ?? 1) > 1 ? (
          <QuantityField
            label="cavities apart"
            kind="length"
            optional
            reading={around.spacing_m as Reading | null}
            pointer={`/piece/voids/${index}/around/spacing_m`}
            help="they warm each other; far apart unless said"
            onCommit={(spacing_m) => change({ spacing_m: spacing_m })}
          />
        ) : null}
        {hollow.portions.map((portion, number) => (
          <QuantityField
            key={portion.id}
            label={hollow.portions.length > 1 ? `portion ${number + 1} poured at` : "poured at"}
            kind="temperature"
            optional
            reading={portion.pour_c as Reading | null}
            pointer={`/piece/voids/${index}/portions/${number}/pour_c`}
            help="as it comes out of the cup unless said"
            onCommit={(pour_c) => pourAt(portion.id, pour_c)}
          />
        ))}
      </div>
      <Check checked={around.fan ?? false} onChange={(fan) => change({ fan })}>
        a fan blows over it
      </Check>
      <Check checked={around.wrapped ?? false} onChange={(wrapped) => change({ wrapped })}>
        sides wrapped in a blanket or foam
      </Check>
    </details>
  );
}
