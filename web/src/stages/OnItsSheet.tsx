/** What a plan takes from a data sheet that was read: each value opens to its line. */
import { Link } from "react-router";
import { useShelf, type Piece } from "../api/queries";
import { lineOf } from "../domain/sheet-reading";
import { asTaken, fieldName, stillReads, type System } from "../domain/system-fields";

export const TIMES = [
  "working_time",
  "more_working",
  "other_working_s",
  "other_demould_s",
  "stir_s",
  "rest_s",
  "tack_free_s",
  "touch_dry_s",
  "bond_from_s",
  "bond_to_s",
  "demould_s",
  "light_use_s",
  "full_cure_s",
];

/** fields: those to show; all where nothing is said. */
export function OnItsSheet({ piece, fields }: { piece: Piece; fields?: string[] }) {
  const shelf = useShelf();
  const used = new Set([
    piece.system_id,
    ...(piece.voids ?? []).flatMap((one) => one.portions.map((two) => two.system_id)),
    ...(piece.coats ?? []).flatMap((one) => one.lays.map((two) => two.system_id)),
  ]);
  const sheets = (shelf.data ?? []).filter(
    ({ system }) => used.has(system.id) && linesOf(system, fields).length,
  );
  if (!sheets.length) return null;
  return (
    <section aria-label="On its sheet" className="mt-4">
      <h2>On its sheet</h2>
      {sheets.map(({ system }) => (
        <p key={system.id} className="mt-1 text-[13.5px]">
          {system.name}:{" "}
          {linesOf(system, fields).map((one, index) => (
            <span key={one.field}>
              {index ? ", " : ""}
              <Link className="quiet" to={lineOf(one)}>
                {fieldName(one.field.split("/")[0]!)} {asTaken(system, one)}
              </Link>
            </span>
          ))}
        </p>
      ))}
    </section>
  );
}

const linesOf = (system: System, fields?: string[]) =>
  (system.read_from ?? []).filter(
    (one) =>
      one.field !== "basis" &&
      (!fields || fields.includes(one.field.split("/")[0]!)) &&
      stillReads(system, one),
  );
