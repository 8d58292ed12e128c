/** The record of this piece's newest run, in the middle of its Log stage. */
import { listRuns } from "../../api/operations.generated";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Stored } from "../../api/queries";
import { date } from "../../domain/format";
import { useUnits } from "../../ui/session";
import { Empty, Waiting } from "../../ui/states";
import { RecordView } from "./RecordView";

export function useRunsOf(pieceId: number) {
  return useQuery({
    queryKey: ["runs", "of", pieceId],
    queryFn: async () => (await listRuns({ piece_id: pieceId, only_open: false })).runs,
  });
}

export function LogDrawing({ stored }: { stored: Stored }) {
  const { zone } = useUnits();
  const found = useRunsOf(stored.id);
  if (!found.data) return <Waiting error={found.error} what="the record" />;
  const real = found.data.filter((one) => !one.is_rehearsal);
  if (!real.length)
    return (
      <section>
        <Empty title="No run yet">
          <Link className="quiet" to={`/pieces/${stored.id}/pour`}>
            Begin the run
          </Link>
          , and what is done, weighed, read and tested gathers here by itself.
        </Empty>
      </section>
    );
  return (
    <section className="min-w-0 pt-1" aria-label="Record">
      <RecordView runId={real[0]!.id} />
      {real.length > 1 ? (
        <p className="mt-4 text-[13px]">
          Earlier:{" "}
          {real.slice(1, 6).map((one) => (
            <Link key={one.id} className="quiet mr-4" to={`/logbook/${one.id}`}>
              run of {date(one.begun_at, zone)}
            </Link>
          ))}
        </p>
      ) : null}
    </section>
  );
}
