/** After the run: how it went, step by step, and what to do better. */
import { readDebrief } from "../../api/operations.generated";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { since } from "../../ui/alarms";
import { Shape } from "../../ui/Verdicts";
import type { OpenRun } from "./useRun";

export function Ended({ open }: { open: OpenRun }) {
  const run = open.run!;
  const found = useQuery({
    queryKey: ["debrief", run.id, open.events.length],
    queryFn: () => readDebrief(run.id),
  });
  const told = found.data;
  return (
    <main className="bench-mode max-w-[1000px] mx-auto px-6 py-6 text-[18px]">
      <h1 className="text-[40px] max-sm:text-[34px]">
        {run.is_rehearsal
          ? "Debrief of the rehearsal"
          : open.state!.ended === "finished"
            ? "Finished"
            : "Given up"}
        : {run.script.piece}
      </h1>
      {told ? (
        <>
          <p className="text-[20px] mt-2">
            {told.done} steps done, {told.late} late, {told.early} early, {told.skipped} left out;{" "}
            {told.tests} tests, {told.mishaps} {told.mishaps === 1 ? "mishap" : "mishaps"}
            {told.absurd ? `, ${told.absurd} readings that cannot be` : ""}.
          </p>
          <ul className="rule mt-3">
            {told.says.map((one, index) => (
              <li key={index} className="py-2 grid grid-cols-[28px_1fr]">
                <Shape weight={one.weight} />
                <span>
                  <b className="font-semibold">{one.title}.</b> {one.text} {one.todo}
                </span>
              </li>
            ))}
          </ul>
          <table className="plain mt-4 text-[16px]!" aria-label="Steps">
            <thead>
              <tr>
                <th>step</th>
                <th>how</th>
                <th>when</th>
              </tr>
            </thead>
            <tbody>
              {told.steps.map((one) => (
                <tr key={one.id}>
                  <td>{one.title}</td>
                  <td>{one.status}</td>
                  <td>
                    {one.late_s > 60
                      ? `${since(one.late_s * 1000)} late`
                      : one.early_s > 60
                        ? `${since(one.early_s * 1000)} early`
                        : "in its window"}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      ) : (
        <p className="mt-3 text-slate">{found.error ? found.error.message : "Adding it up …"}</p>
      )}
      {found.isPending ? null : (
        <Link className="big-quiet mt-4" to={`/pieces/${run.piece_id ?? ""}/pour`}>
          Back to the piece
        </Link>
      )}
    </main>
  );
}
