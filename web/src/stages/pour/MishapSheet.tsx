/** Something is wrong: what it is by one tap, then first what to do now, then what to write down. */
import { useState } from "react";
import { Link } from "react-router";
import { useUnits } from "../../ui/session";
import { windowOf } from "../../domain/run";
import type { OpenRun } from "./useRun";
import { clockTime } from "./words";

/** Mend, told which run and piece it is about and what is seen. */
function wayToMend(run: number, piece?: number | null, trouble?: string): string {
  const asked = new URLSearchParams({ run: String(run) });
  if (piece) asked.set("piece", String(piece));
  if (trouble) asked.set("trouble", trouble);
  return `/mend?${asked.toString()}`;
}

/** Until when the batch that was stirred last still flows; null where none was. */
export function flowsUntil(open: OpenRun): number | null {
  const ends = open
    .run!.script.steps.filter((one) => one.kind === "pour" && one.batch)
    .map((one) => windowOf(one, open.state!))
    .flatMap((one) => (one.settled && one.closes !== null ? [one.closes] : []));
  return ends.length ? Math.max(...ends) : null;
}

export function MishapSheet({ open, onClose }: { open: OpenRun; onClose: () => void }) {
  const run = open.run!;
  const running = open.state!.mishaps.filter((one) => one.over_at === null);
  const [eventId, setEventId] = useState<string | null>(running.at(-1)?.event_id ?? null);
  const current = open.state!.mishaps.find((one) => one.event_id === eventId);
  const { zone } = useUnits();
  const flows = flowsUntil(open);
  const mishap = run.mishaps.find((one) => one.code === current?.code);
  return (
    <div
      role="dialog"
      aria-modal="true"
      aria-label="Something is wrong"
      className="fixed inset-0 z-50 bg-paper overflow-auto p-6 max-sm:p-4"
      onKeyDown={(event) => event.key === "Escape" && onClose()}
    >
      <div className="max-w-[1000px] mx-auto">
        {mishap && current ? (
          <>
            <h2 className="text-[44px]! max-sm:text-[34px]! text-rust">{mishap.key}</h2>
            {mishap.grave ? (
              <p className="text-[22px] font-semibold mt-1">People first. The piece can be made again.</p>
            ) : null}
            {mishap.while_it_flows && flows !== null && open.now < flows ? (
              <p className="mt-2 text-[28px] max-sm:text-[22px] font-semibold text-spruce">
                {mishap.while_it_flows}, until {clockTime(flows, zone)}.
              </p>
            ) : null}
            <ol className="mt-3 grid gap-3 text-[26px] max-sm:text-[21px] font-semibold list-decimal pl-9">
              {mishap.first.map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ol>
            <h3 className="mt-6 text-[22px] font-serif">Then write down</h3>
            <ul className="text-[19px] list-disc pl-6 mt-1 grid gap-1">
              {mishap.then.map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ul>
            <p className="text-[17px] text-slate mt-3">
              The product's safety data sheet, the fire brigade and a doctor come before this page.
            </p>
            {run.is_rehearsal ? null : (
              <p className="mt-2">
                <Link className="big-quiet px-0!" to={wayToMend(run.id, run.piece_id, mishap.trouble)}>
                  Once it is calm: what it comes from, and the way back
                </Link>
              </p>
            )}
            <div className="flex flex-wrap justify-between gap-6 mt-6">
              <button
                className="big-key"
                onClick={() => {
                  if (current.over_at === null) open.say({ kind: "mishap-over", event_id: current.event_id });
                  onClose();
                }}
              >
                It is over: back to the steps
              </button>
              <button
                className="big-quiet"
                onClick={() => {
                  open.say({ kind: "undo", event_id: current.event_id });
                  setEventId(null);
                }}
              >
                Wrong problem: back
              </button>
            </div>
          </>
        ) : (
          <>
            <h2 className="text-[40px]! max-sm:text-[34px]!">What is wrong?</h2>
            <div className="grid grid-cols-2 max-sm:grid-cols-1 gap-4 mt-4">
              {run.mishaps.map((one) => (
                <button
                  key={one.code}
                  autoFocus={one === run.mishaps[0]}
                  className={`big-box min-h-[84px]! px-4 text-left text-[22px]! ${one.grave ? "border-rust! border-4! font-semibold" : ""}`}
                  onClick={() => setEventId(open.say({ kind: "mishap", code: one.code }))}
                >
                  {one.key}
                </button>
              ))}
            </div>
            <button className="big-quiet mt-5" onClick={onClose}>
              Nothing: back
            </button>
          </>
        )}
      </div>
    </div>
  );
}
