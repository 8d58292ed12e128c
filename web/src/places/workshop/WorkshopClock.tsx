/** All pieces planned together: who may move, what came of it and why, what clashes and what gives room;
 *  calendars in and out. */
import { askForSchedule, endJob, keepStarts, readSchedule } from "../../api/operations.generated";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useBench, useEverythingAnew } from "../../api/queries";
import { moment } from "../../domain/format";
import { ClockRibbon, type RibbonRow } from "../../drawing/ClockRibbon";
import { useUnits } from "../../ui/session";
import { Empty, Waiting } from "../../ui/states";
import { Calendars } from "./Calendars";

type Result = Schemas["ScheduleResult"];
type Wish = Schemas["Wish"];

export function WorkshopClock() {
  const bench = useBench();
  const { zone } = useUnits();
  const anew = useEverythingAnew();
  const [wishes, setWishes] = useState<Record<number, Wish>>({});
  const [jobId, setJobId] = useState<number | null>(null);
  const [problem, setProblem] = useState("");
  const [kept, setKept] = useState("");
  const asked = useQuery({
    queryKey: ["schedule", jobId],
    enabled: jobId !== null,
    queryFn: () => readSchedule(jobId!),
    refetchInterval: (query) =>
      ["done", "failed", "ended"].includes(query.state.data?.state ?? "") ? false : 400,
  });
  useEffect(() => {
    document.title = "Workshop clock · Cavatum";
    return () => {
      document.title = "Cavatum";
    };
  }, []);
  if (bench.isPending || !bench.data) return <Waiting error={bench.error} what="the workshop's clock" />;
  const answer = asked.data;
  const busy = !!answer && ["waiting", "running"].includes(answer.state);
  const pieces = bench.data.pieces.filter((one) => one.clock && one.standing.phase !== "done");

  const wishOf = (id: number, isSet: boolean): Wish =>
    wishes[id] ?? { piece_id: id, is_free: !isSet, must_bond: false, must_due: false };
  const plan = async () => {
    setProblem("");
    setKept("");
    try {
      const started = await askForSchedule({
        wishes: Object.values(wishes),
      });
      setJobId(started.job_id);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const keep = async (proposals: Result["proposals"]) => {
    try {
      const starts = (proposals ?? [])
        .filter((one) => one.is_free)
        .map((one) => ({
          piece_id: one.piece_id,
          start_at: one.start_at,
          later_mixes: one.later_mixes ?? [],
        }));
      await keepStarts({ starts });
      setKept(
        starts.length === 1
          ? "The start is set; undo it at the piece."
          : `${starts.length} starts are set; each can be undone at its piece.`,
      );
      await anew();
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <div className="px-7 py-5 max-sm:px-3">
      <h1 className="text-[34px] leading-tight">All pieces on one clock</h1>
      <p className="mt-1 max-w-[760px] text-[15px]">
        Windows first, then due dates, then as few visits as there can be, within your hours, hands, chamber,
        rotator and shelves. What you fixed stays; the rest is laid round it, and nothing is kept before you
        say so.
      </p>
      {pieces.length === 0 ? (
        <Empty title="Nothing to lay out">
          <p>Measure a piece and choose its resin; then it has a clock.</p>
        </Empty>
      ) : (
        <div className="grid grid-cols-[minmax(0,1fr)_300px] gap-8 mt-4 max-lg:block">
          <div className="min-w-0">
            <div
              className="overflow-x-auto"
              tabIndex={0}
              role="group"
              aria-label="Pieces and what may move, table"
            >
              <table className="plain" aria-label="Pieces and what may move">
                <thead>
                  <tr>
                    <th>piece</th>
                    <th>first mix now</th>
                    <th>may be moved</th>
                    <th>no sanding</th>
                    <th>not after its due date</th>
                  </tr>
                </thead>
                <tbody>
                  {pieces.map((one) => {
                    const isSet = one.moments.length > 0 || one.standing.status !== "planned, start not set";
                    const wish = wishOf(one.id, isSet);
                    const change = (part: Partial<Wish>) =>
                      setWishes((now) => ({ ...now, [one.id]: { ...wish, ...part } }));
                    return (
                      <tr key={one.id}>
                        <td>
                          <Link to={`/pieces/${one.id}/clock`} className="font-semibold">
                            {one.name}
                          </Link>
                        </td>
                        <td className="whitespace-nowrap">
                          {one.clock?.pins[0] ? moment(one.clock.pins[0].at, zone) : ""}
                          {isSet ? "" : ", proposed"}
                        </td>
                        <td>
                          <Tick
                            label={`${one.name} may be moved`}
                            on={wish.is_free}
                            onChange={(is_free) => change({ is_free })}
                          />
                        </td>
                        <td>
                          <Tick
                            label={`${one.name}: no sanding`}
                            on={wish.must_bond ?? false}
                            onChange={(must_bond) => change({ must_bond })}
                          />
                        </td>
                        <td>
                          <Tick
                            label={`${one.name}: not after its due date`}
                            on={wish.must_due ?? false}
                            onChange={(must_due) => change({ must_due })}
                          />
                        </td>
                      </tr>
                    );
                  })}
                </tbody>
              </table>
            </div>
            <div className="mt-4 flex flex-wrap items-center gap-5">
              <button className="key" disabled={busy} onClick={() => void plan()}>
                Plan all together
              </button>
              {busy ? (
                <>
                  <progress value={answer.progress} max={1} aria-label="Planning" className="w-[220px]" />
                  <button
                    className="quiet"
                    onClick={() => void endJob(answer.job_id).then(() => asked.refetch())}
                  >
                    Stop
                  </button>
                </>
              ) : null}
              {answer?.state === "failed" ? (
                <span role="alert" className="text-rust">
                  {answer.says || "It could not be worked out."}
                </span>
              ) : null}
              {answer?.state === "ended" ? <span>Stopped.</span> : null}
            </div>
            {problem ? (
              <p role="alert" className="text-rust mt-2">
                {problem}
              </p>
            ) : null}
            {kept ? (
              <p role="status" className="text-spruce font-semibold mt-2">
                {kept}
              </p>
            ) : null}
            {answer?.result ? (
              <Found result={answer.result} zone={zone} onKeep={(all) => void keep(all)} />
            ) : null}
          </div>
          <Calendars />
        </div>
      )}
    </div>
  );
}

function Tick({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <input
      type="checkbox"
      className="w-6 h-6"
      aria-label={label}
      checked={on}
      onChange={(event) => onChange(event.target.checked)}
    />
  );
}

function Found({
  result,
  zone,
  onKeep,
}: {
  result: Result;
  zone: string;
  onKeep: (all: Result["proposals"]) => void;
}) {
  if (!result.feasible) {
    return (
      <section className="mt-5" aria-label="Clash">
        <h2>{result.is_proof ? "These wishes conflict" : "No schedule was found in time"}</h2>
        <ul className="rule">
          {(result.clash ?? []).map((one) => (
            <li key={one} className="py-1.5">
              {one}
            </li>
          ))}
        </ul>
        <h2 className="mt-4">What would fix it, easiest first</h2>
        {(result.ways_out ?? []).length ? (
          <ul className="rule">
            {result.ways_out!.map((one) => (
              <li key={one.words} className="py-1.5 grid grid-cols-[1fr_auto] gap-4">
                <span>{one.words}</span>
                <span className="text-slate">{cost(one)}</span>
              </li>
            ))}
          </ul>
        ) : (
          <p className="text-slate">Dropping one wish is not enough; drop two.</p>
        )}
      </section>
    );
  }
  const proposals = result.proposals ?? [];
  const free = proposals.filter((one) => one.is_free);
  const from = new Date(Math.min(...proposals.map((one) => +new Date(one.start_at))) - 6 * 3_600_000);
  const to = new Date(
    Math.max(...proposals.flatMap((one) => one.works.map((work) => +new Date(work[2])))) + 8 * 3_600_000,
  );
  const rows: RibbonRow[] = proposals.map((one) => ({
    label: one.name,
    segments: one.works.flatMap((work, index): RibbonRow["segments"] => {
      const [words, begin, end] = work;
      const next = one.works[index + 1];
      return [
        { state: "mix", label: words, from_at: begin, to_at: end },
        ...(next ? [{ state: "liquid" as const, label: "curing", from_at: end, to_at: next[1] }] : []),
      ];
    }),
  }));
  return (
    <section className="mt-5" aria-label="What came of it">
      <p className="text-[15px]">
        {result.missed
          ? `${result.missed} ${result.missed === 1 ? "window is" : "windows are"} missed and sanded`
          : "Every window is met"}
        ; {result.late_days ? `${result.late_days.toFixed(1)} days late in all` : "nothing is late"};{" "}
        {result.visits} visits
        {result.visits_bound === result.visits
          ? ", the fewest there can be"
          : result.visits_bound
            ? `, at least ${result.visits_bound}`
            : ""}
        .{" "}
        {result.proven
          ? "No schedule has fewer windows missed or less lateness."
          : `A better plan may exist; the search stopped early. Any plan misses at least ${result.missed_bound ?? 0} windows and is at least ${(result.late_bound_days ?? 0).toFixed(1)} days late.`}
        {result.agrees
          ? " The heat at these hours was run again and has the same windows."
          : " At these hours the windows still move a little: look at each piece's clock."}
      </p>
      <div className="my-3">
        <ClockRibbon
          from={from}
          to={to}
          zone={zone}
          away={result.away ?? []}
          rows={rows}
          cursor={null}
          rowHeight={30}
          labelWidth={150}
        />
      </div>
      <div className="overflow-x-auto" tabIndex={0} role="group" aria-label="Proposed starts, table">
        <table className="plain" aria-label="Proposed starts">
          <thead>
            <tr>
              <th>piece</th>
              <th>first mix</th>
              <th>ready</th>
              <th>why here</th>
              <th>
                <span className="sr-only">take it</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {proposals.map((one) => (
              <tr key={one.piece_id}>
                <td className="font-semibold">{one.name}</td>
                <td className="whitespace-nowrap">{moment(one.start_at, zone)}</td>
                <td className="whitespace-nowrap">
                  {one.ready_at ? moment(one.ready_at, zone) : "not in this room"}
                  {one.late_days > 0 ? (
                    <span className="block text-rust">{one.late_days.toFixed(1)} days late</span>
                  ) : null}
                </td>
                <td>{one.reason}</td>
                <td>
                  {one.is_free ? (
                    <button
                      className="quiet"
                      aria-label={`Keep the start of ${one.name}`}
                      onClick={() => onKeep([one])}
                    >
                      Keep
                    </button>
                  ) : null}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {(result.left_out ?? []).length ? (
        <p className="text-[13px] text-slate mt-2">
          Nothing is still to come for {result.left_out!.join(", ")}.
        </p>
      ) : null}
      {free.length ? (
        <button className="key mt-4" onClick={() => onKeep(free)}>
          Keep all these starts
        </button>
      ) : null}
    </section>
  );
}

function cost(one: Schemas["WayOut"]): string {
  return [
    one.missed ? `${one.missed} sanded` : "no window missed",
    one.late_days ? `${one.late_days.toFixed(1)} days late` : "",
  ]
    .filter(Boolean)
    .join(", ");
}
