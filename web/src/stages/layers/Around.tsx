/** What the heat meets: how thick the form is, what lies under it, what it stands on. Typical until
 *  somebody says. */
import type { Present } from "../../api/client";
import { useShelfItems, type Piece } from "../../api/queries";
import { Check } from "../../ui/Check";
import { QuantityField, type Reading } from "../../ui/QuantityField";
import type { StageProps } from "../props";

type Void = NonNullable<Piece["voids"]>[number];
type Given = NonNullable<Void["around"]>;

export const STANDS: [NonNullable<Given["stands_on"]>, string][] = [
  ["bench", "a wooden bench"],
  ["raised", "cones or blocks, air below"],
  ["foam", "foam or a blanket"],
  ["metal top", "metal or stone"],
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

export function Around({ stored, edits, voidId }: Pick<StageProps, "stored" | "plan" | "edits" | "voidId">) {
  const shelfItems = useShelfItems();
  const hollow = (stored.piece.voids ?? []).find((one) => one.id === voidId);
  if (!hollow) return null;
  const around: Partial<Given> = hollow.around ?? {};
  const change = (part: Partial<Given>) =>
    edits.edit("what stands round it", (piece) => ({
      ...piece,
      voids: (piece.voids ?? []).map((one) =>
        one.id === voidId
          ? { ...one, around: { ...one.around, wrapped: one.around?.wrapped ?? false, ...part } }
          : one,
      ),
    }));
  return (
    <details className="mt-4">
      <summary className="quiet">What stands round it</summary>
      <p className="text-[12.5px] text-slate">
        It decides: foam under a form that was fine on a board can make it run away. What you leave empty is
        taken as typical and listed below.
      </p>
      <div className="mt-2 grid grid-cols-2 gap-2">
        <div className="col-span-2">
          <label className="block text-[13px] text-slate" htmlFor="around-material">
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
        <div>
          <label className="block text-[13px] text-slate" htmlFor="around-floor">
            floor of
          </label>
          <select
            id="around-floor"
            className="box"
            value={around.floor ?? ""}
            onChange={(event) =>
              void change({ floor: (event.target.value || null) as Present<Given["floor"]> }).catch(
                () => undefined,
              )
            }
          >
            <option value="">as the wall</option>
            {WALLS.map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
        </div>
        <div>
          <label className="block text-[13px] text-slate" htmlFor="around-stands">
            stands on
          </label>
          <select
            id="around-stands"
            className="box"
            value={around.stands_on ?? ""}
            onChange={(event) =>
              void change({ stands_on: (event.target.value || null) as Present<Given["stands_on"]> }).catch(
                () => undefined,
              )
            }
          >
            <option value="">not said: a bench</option>
            {STANDS.map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
        </div>
      </div>
      <Check checked={around.wrapped ?? false} onChange={(wrapped) => change({ wrapped })}>
        sides wrapped in a blanket or foam
      </Check>
    </details>
  );
}
