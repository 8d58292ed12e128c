/** The form itself in three dimensions: a longer run beside the plan, with the middle cut coloured
 *  by how hot it gets. */
import { endJob } from "../../api/operations.generated";
import { useState } from "react";
import { useQueryClient } from "@tanstack/react-query";
import { useWork } from "../../api/queries";
import { degrees } from "../../domain/format";
import { heatColour } from "../../domain/heat";
import { useUnits } from "../../ui/session";
import type { StageProps } from "../props";

const WIDE = 288;
const KINDS_WITHOUT_FORM = ["fill test", "stated"];

export function InThree({ stored, plan, voidId }: Pick<StageProps, "stored" | "plan" | "voidId">) {
  const [wanted, setWanted] = useState("");
  const { units } = useUnits();
  const key = `${voidId}/${stored.revision}`;
  const { work, error } = useWork(stored.id, stored.revision, "three", voidId, wanted === key);
  const client = useQueryClient();
  const hollow = (stored.piece.voids ?? []).find((one) => one.id === voidId);
  const heats = plan.pours
    .flatMap((pour) => pour.layers)
    .filter((layer) => layer.void_id === voidId && layer.heat);
  if (!hollow || !heats.length || KINDS_WITHOUT_FORM.includes(hollow.shape.kind)) return null;
  const end = async () => {
    if (work) await endJob(work.id);
    setWanted("");
    client.removeQueries({ queryKey: ["work", stored.id, stored.revision, "three"] });
  };
  const three = wanted === key ? work?.three : null;
  const running = wanted === key && !three && !error && work?.state !== "failed";
  return (
    <section className="mt-4" aria-label="In three dimensions">
      <h2>In three dimensions</h2>
      {three ? (
        <Cut three={three} never={heats[0]!.heat!.never_c} units={units} />
      ) : (
        <p className="text-[13px] mt-1">
          The plan takes the void as a block as wide and long as it is, or as turned on a lathe. A 3D check
          follows the form itself.
        </p>
      )}
      {running ? (
        <p className="mt-1 flex items-center gap-3">
          <progress
            max="1"
            value={work?.progress ?? 0}
            className="w-40 accent-spruce"
            aria-label="Run in three dimensions"
          />
          <span className="text-[13px]">{Math.round((work?.progress ?? 0) * 100)} %</span>
          <button className="quiet" onClick={() => void end()}>
            End it
          </button>
        </p>
      ) : null}
      {error || work?.state === "failed" ? (
        <p role="alert" className="text-rust">
          {work?.says || (error as Error)?.message}
        </p>
      ) : null}
      {three || running ? null : (
        <button className="quiet" onClick={() => setWanted(key)}>
          Check in 3D
        </button>
      )}
    </section>
  );
}

function Cut({
  three,
  never,
  units,
}: {
  three: NonNullable<ReturnType<typeof useWork>["work"]>["three"] & object;
  never: number;
  units: "metric" | "us";
}) {
  const rows = three.heights_m.length;
  const columns = three.across_m.length;
  const span = three.across_m.at(-1)! - three.across_m[0]!;
  const tall = Math.max(Math.min((WIDE * three.heights_m.at(-1)!) / Math.max(span, 1e-6), 150), 46);
  const cell = [WIDE / columns, tall / rows];
  const values = three.section_c.flat().filter((one): one is number => one !== null);
  return (
    <figure className="mt-1">
      <svg
        width={WIDE}
        height={tall + 18}
        className="block max-w-full text-[12px]"
        role="img"
        aria-label={`Middle cut, hottest ${degrees(Math.max(...values), units)}, coolest ${degrees(Math.min(...values), units)}`}
      >
        {three.section_c.map((row, j) =>
          row.map((value, i) =>
            value === null ? null : (
              <rect
                key={`${i}-${j}`}
                x={i * cell[0]!}
                y={tall - (j + 1) * cell[1]!}
                width={cell[0]! + 0.4}
                height={cell[1]! + 0.4}
                fill={heatColour(value, Math.min(20, ...values), never)}
              />
            ),
          ),
        )}
        <text x="0" y={tall + 14}>
          {degrees(edge(three.section_c, 0), units)}
        </text>
        <text x={WIDE / 2} y={tall + 14} textAnchor="middle" fontWeight="600">
          {degrees(Math.max(...values), units)}
        </text>
        <text x={WIDE} y={tall + 14} textAnchor="end">
          {degrees(edge(three.section_c, columns - 1), units)}
        </text>
      </svg>
      <figcaption className="text-[12.5px] text-slate mt-1">
        Hottest at each place of the middle cut, {three.cells.toLocaleString("en")} cells.
      </figcaption>
      <ul className="text-[13px] mt-1">
        {three.peak_c.map((peak, index) => (
          <li key={index}>
            <b className="font-semibold">Layer {index + 1}</b>: {degrees(peak, units)} here,{" "}
            {degrees(three.plan_peak_c[index]!, units)} in the plan
            {three.agrees[index] ? (
              ""
            ) : (
              <b className="text-rust font-semibold"> (they differ; go by the hotter)</b>
            )}
            .
          </li>
        ))}
      </ul>
    </figure>
  );
}

function edge(rows: (number | null)[][], column: number): number {
  const found = rows.map((row) => row[column]).filter((one): one is number => one !== null);
  return found.length
    ? Math.max(...found)
    : Math.min(...rows.flat().filter((one): one is number => one !== null));
}
