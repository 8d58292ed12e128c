/** What was weighed, as the record has it; what is left over is offered to voids that wait. */
import { listRuns, placeLeftover } from "../../../api/operations.generated";
import { Link } from "react-router";
import { useQuery } from "@tanstack/react-query";
import { text } from "../../../domain/format";
import { useUnits } from "../../../ui/session";
import { Shape } from "../../../ui/Verdicts";
import { grams } from "./Weigh";
import type { Weighing } from "./useWeighing";

const LEAST_M3 = 5e-6; // less is not worth a line

export function Done({ weighing }: { weighing: Weighing }) {
  const { task, state } = weighing;
  const runs = useQuery({
    queryKey: ["runs", "of", weighing.piece_id, "open"],
    queryFn: async () => (await listRuns({ piece_id: weighing.piece_id })).runs,
    enabled: !!weighing.piece_id && state.ended === "mixed",
  });
  const run = runs.data?.find((one) => !one.is_rehearsal);
  return (
    <main className="bench-mode min-h-dvh max-w-[900px] mx-auto px-6 py-5 text-[19px]">
      <h1 className="text-[32px]">
        {state.ended === "mixed" ? "Mixed and in the record" : "Given up; the record keeps it"}
      </h1>
      <p className="text-slate">
        {task.piece}, {task.pour}, batch {task.batch} of {task.batches} · {task.system}
      </p>
      <table className="plain mt-4 text-[18px]!" aria-label="What was weighed">
        <thead>
          <tr>
            <th>entry</th>
            <th className="text-right!">weight</th>
            <th>read</th>
          </tr>
        </thead>
        <tbody>
          {weighing.entries
            .filter((entry) => entry.event.kind === "taken" || entry.event.kind === "undo")
            .map((entry) => (
              <tr key={entry.number}>
                <td>{entry.event.kind === "taken" ? nameOf(weighing, entry.event.step) : "taken back"}</td>
                <td className="text-right tabular-nums">
                  {entry.event.kind === "taken" ? `${grams(entry.event.mass_kg)} g` : ""}
                </td>
                <td>
                  {entry.event.kind === "taken"
                    ? entry.event.by === "scale"
                      ? "from the scale"
                      : "by hand"
                    : ""}
                </td>
              </tr>
            ))}
        </tbody>
      </table>
      <p className="mt-3">
        {typeof state.off === "number"
          ? `A : B is ${Math.abs(state.off) < 0.0005 ? "exactly in ratio" : `off by ${(100 * Math.abs(state.off)).toFixed(1)} %`}.`
          : ""}
      </p>
      {(weighing.booked ?? []).map((verdict) => (
        <p key={verdict.title} className="mt-2 grid grid-cols-[24px_1fr] gap-3">
          <Shape weight={verdict.weight} />
          <span>
            <b>{verdict.title}.</b> {verdict.text} {verdict.todo}
          </span>
        </p>
      ))}
      {state.over_m3 > LEAST_M3 && state.ended === "mixed" ? (
        <Leftover volume={state.over_m3} weighing={weighing} />
      ) : null}
      <p className="mt-6 flex flex-wrap gap-8">
        {run ? (
          <Link className="big-key inline-grid content-center" to={`/runs/${run.id}`}>
            Back to the pour: stir it
          </Link>
        ) : null}
        <Link
          className={run ? "big-quiet" : "big-key inline-grid content-center"}
          to={`/pieces/${weighing.piece_id}/mix`}
        >
          Back to the piece
        </Link>
      </p>
    </main>
  );
}

function nameOf({ state }: Weighing, key: string): string {
  const step = state.steps.find((one) => one.key === key);
  return step ? (step.kind === "part" ? `Part ${step.key}` : step.name) : key;
}

function Leftover({ volume, weighing }: { volume: number; weighing: Weighing }) {
  const { units } = useUnits();
  const colour = weighing.task.cups.length === 1 ? weighing.task.cups[0]!.colour : "";
  const found = useQuery({
    queryKey: ["leftover", weighing.id],
    queryFn: () =>
      placeLeftover({
        volume_m3: volume,
        system_id: weighing.task.system_id,
        colour: colour,
        piece_id: weighing.piece_id,
      }),
  });
  return (
    <section className="mt-4" aria-label="Left over">
      <h2 className="text-[24px]">{text(volume, "volume", units)} more than was planned</h2>
      {found.data?.offers.length ? (
        <ul>
          {found.data.offers.map((one) => (
            <li key={`${one.waiting.piece_id}-${one.waiting.void}`}>
              <Link className="quiet" to={`/pieces/${one.waiting.piece_id}/mix`}>
                {one.waiting.piece}
              </Link>
              : {one.fills} {one.fills === 1 ? "hollow" : "hollows"} of {one.waiting.void} would take{" "}
              {text(one.takes_m3, "volume", units)} of it now.
            </li>
          ))}
        </ul>
      ) : (
        <p>
          {found.isPending
            ? "Looking for a void that waits …"
            : "No void waits for this resin and colour. Spread it out thin; a full cup heats itself."}
        </p>
      )}
    </section>
  );
}
