/** Pour: begin or go on with the run of this piece, or rehearse it; what was done of it before. */
import { remember, remembered } from "../../api/memory";
import { beginRun, listRuns } from "../../api/operations.generated";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import type { Plan } from "../../api/queries";
import { moment, text } from "../../domain/format";
import { useShop, useUnits } from "../../ui/session";
import { Verdicts } from "../../ui/Verdicts";
import type { StageProps } from "../props";
import { Spread } from "../Spread";
import { Afterwards } from "./Afterwards";
import { MeasuredCurves } from "./MeasuredCurves";

const QUESTION = "What do I do now?";
const SPEEDS = [1, 10, 60, 240];

export function PourStage({ stored, plan }: StageProps) {
  const { zone, units } = useUnits();
  const { now } = useShop();
  const navigate = useNavigate();
  const client = useQueryClient();
  const [speed, setSpeed] = useState(60);
  const [troubles, setTroubles] = useState(true);
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const found = useQuery({
    queryKey: ["runs", "of", stored.id],
    queryFn: async () => (await listRuns({ piece_id: stored.id, only_open: false })).runs,
    refetchInterval: 10_000,
  });
  const open = (found.data ?? []).find((one) => !one.ended_at && !one.is_rehearsal);
  const earlier = (found.data ?? []).filter((one) => one !== open);
  const stops = plan.verdicts.filter((one) => one.weight === "blocker");

  const [asks, setAsks] = useState(false);
  const [entering, setEntering] = useState(false);
  const hasPassed =
    plan.start_is_chosen && !!plan.start_at && +new Date(now) - +new Date(plan.start_at) > 3_600_000;
  const begin = async (rehearse: Schemas["Practice"] | null, anew = false) => {
    setBusy(true);
    try {
      const run = await beginRun(stored.id, { rehearse, anew });
      await client.invalidateQueries({ queryKey: ["runs"] });
      navigate(`/runs/${run.id}`);
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  if (!plan.pours.length)
    return (
      <Spread question={QUESTION} side={<Verdicts verdicts={plan.verdicts} stage="pour" />}>
        <p className="mt-1 text-slate">Measure a void and choose a system first.</p>
      </Spread>
    );
  return (
    <Spread
      question={QUESTION}
      side={
        <>
          <Verdicts verdicts={plan.verdicts} stage="pour" />
          <section className="mt-5 border-t border-line pt-3 first:mt-1 first:border-t-0">
            <h2>Rehearse it</h2>
            <p className="text-[13px] text-slate mt-1">
              The same steps with simulated instruments, faster, with things going wrong, and a debrief at the
              end. Nothing is booked, nothing goes into the record of the piece.
            </p>
            <label className="block text-[13px] text-slate mt-2" htmlFor="speed">
              how many times as fast
            </label>
            <select
              id="speed"
              className="box"
              value={speed}
              onChange={(event) => setSpeed(Number(event.target.value))}
            >
              {SPEEDS.map((one) => (
                <option key={one} value={one}>
                  {one === 1 ? "as slow as it is" : `${one} times`}
                </option>
              ))}
            </select>
            <label className="flex items-center gap-2 mt-2 min-h-7">
              <input
                type="checkbox"
                checked={troubles}
                onChange={(event) => setTroubles(event.target.checked)}
              />{" "}
              with things going wrong
            </label>
            <button
              className="quiet mt-2"
              disabled={busy}
              onClick={() => void begin({ speed, seed: Math.floor(Math.random() * 10_000), troubles })}
            >
              Begin a rehearsal
            </button>
          </section>
          {open ? null : <Afterwards pieceId={stored.id} plan={plan} isOpen={entering} />}
          {earlier.length ? (
            <section className="mt-5 border-t border-line pt-3 first:mt-1 first:border-t-0">
              <h2>Before</h2>
              <ul className="rule">
                {earlier.slice(0, 8).map((one) => (
                  <li key={one.id} className="py-1.5 text-[13.5px]">
                    <Link className="quiet" to={`/runs/${one.id}`}>
                      {one.is_rehearsal ? "Rehearsal" : "Run"} of {moment(one.begun_at, zone)}
                    </Link>{" "}
                    <span className="text-slate">{one.ended_at ? "ended" : "open"}</span>
                  </li>
                ))}
              </ul>
            </section>
          ) : null}
        </>
      }
    >
      {open ? (
        <section className="mt-2">
          <p className="text-[20px]">
            <b className="font-semibold">{open.step || "Nothing is left to do"}</b>
            {open.opens_at && +new Date(open.opens_at) > +new Date(now)
              ? `, ${moment(open.opens_at, zone)}`
              : ""}
          </p>
          <p className="text-[13px] text-slate">
            Begun {moment(open.begun_at, zone)}. The plan it follows is frozen; what is changed here counts
            for the next run.
          </p>
          <Link className="key link-key mt-3" to={`/runs/${open.id}`}>
            Go on in bench mode
          </Link>
          {open.then.length ? (
            <ol aria-label="Then" className="rule mt-3 max-w-[560px]">
              {open.then.map((one) => (
                <li key={one.step + (one.opens_at ?? "")} className="grid grid-cols-[104px_1fr] gap-3 py-1.5">
                  <span className="text-slate">{one.opens_at ? moment(one.opens_at, zone) : "after it"}</span>
                  <b className="font-semibold">{one.step}</b>
                </li>
              ))}
            </ol>
          ) : null}
          <MeasuredCurves runId={open.id} />
        </section>
      ) : (
        <section className="mt-2">
          <p className="text-[13.5px]">
            {plan.pours.length} {plan.pours.length === 1 ? "pour" : "pours"},{" "}
            {text(plan.totals.mass?.value ?? 0, "mass", units)} in all, first mix{" "}
            {plan.start_at ? moment(plan.start_at, zone) : ""}
            {plan.start_is_chosen ? "" : " (proposed)"}. From the first step of preparation to hand-over, one
            thing at a time.
          </p>
          {stops.length ? (
            <p role="alert" className="text-rust font-medium mt-2">
              {stops[0]!.title}: fix this first, or start anyway.
            </p>
          ) : null}
          {asks ? (
            <section aria-label="Its start has passed" className="mt-3 border-l-4 border-rust pl-3">
              <p className="font-medium">
                The first mix was set for {moment(plan.start_at!, zone)}, and that has passed. Was it poured
                then?
              </p>
              <p className="mt-2 flex flex-wrap gap-4">
                <button className="key" disabled={busy} onClick={() => void begin(null, true)}>
                  No: begin now, with times from now on
                </button>
                <button
                  className="quiet"
                  onClick={() => {
                    setAsks(false);
                    setEntering(true);
                  }}
                >
                  Yes: enter what was done
                </button>
              </p>
            </section>
          ) : (
            <button
              className="key mt-3"
              disabled={busy}
              onClick={() => (hasPassed ? setAsks(true) : void begin(null))}
            >
              Begin this run
            </button>
          )}
          <Comes steps={(plan.steps ?? []).slice(0, 4)} zone={zone} />
        </section>
      )}
      {problem ? (
        <p role="alert" className="text-rust mt-2">
          {problem}
        </p>
      ) : null}
      <div className="max-w-80 mt-3">
        <label className="block text-[13px] text-slate mt-2" htmlFor="who">
          who is at the bench (stands beside each entry)
        </label>
        <input
          id="who"
          className="box"
          maxLength={60}
          defaultValue={remembered("device", "cavatum-who") ?? ""}
          onChange={(event) => remember("device", "cavatum-who", event.target.value.trim())}
        />
      </div>
    </Spread>
  );
}

/** What is to do first, and what after it. */
function Comes({ steps, zone }: { steps: NonNullable<Plan["steps"]>; zone: string }) {
  if (!steps.length) return null;
  return (
    <section aria-label="What comes first" className="mt-4">
      <h3 className="text-[15px] font-semibold">What comes first</h3>
      <ol className="rule max-w-[720px]">
        {steps.map((step, index) => (
          <li key={index} className="grid grid-cols-[104px_1fr] gap-3 py-2 text-[14px]">
            <span className="text-slate">{moment(step.at ?? step.earliest, zone)}</span>
            <span>
              <b className="font-semibold">{step.title}.</b> {step.text}
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
