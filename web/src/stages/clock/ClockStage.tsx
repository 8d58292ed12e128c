/** Clock: the start, the moments hands are needed, and what clashes. */
import { adviseStarts } from "../../api/operations.generated";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState, type ReactNode } from "react";
import { Link } from "react-router";
import type { Plan } from "../../api/queries";
import { moment } from "../../domain/format";
import { fromWall, toWall } from "../../domain/time";
import { useUnits } from "../../ui/session";
import { Unsaid } from "../../ui/Unsaid";
import { Verdicts } from "../../ui/Verdicts";
import { OnItsSheet, TIMES } from "../OnItsSheet";
import { BigClock } from "../Drawings";
import type { StageProps } from "../props";
import { Spread } from "../Spread";
import { StartDays } from "./StartDays";

export function ClockStage({ stored, plan, edits }: StageProps) {
  const { zone } = useUnits();
  const proposed = plan.start_at ? toWall(plan.start_at, zone) : "";
  const [typed, setTyped] = useState(proposed);
  const [problem, setProblem] = useState("");
  useEffect(() => setTyped(proposed), [proposed]);
  const set = (at: string | null) =>
    edits
      .edit(at ? "set the start" : "start open again", (piece) => ({ ...piece, first_pour_at: at }))
      .then(
        () => setProblem(""),
        (error: Error) => setProblem(error.message),
      );
  return (
    <Spread
      question="When am I needed?"
      strip="section"
      side={
        <>
          {plan.pours.length ? <Unsaid what="hours" /> : null}
          <Verdicts verdicts={plan.verdicts} stage="clock" />
          <OnItsSheet piece={stored.piece} fields={TIMES} />
          <p className="text-[13px] text-slate mt-3">
            Times are computed from the cure of this shape in this room, or the sheet's where that is not
            known. Readiness is a test (stick, nail, temperature), never only an elapsed time.
          </p>
        </>
      }
    >
      {plan.start_at ? (
        <div className="mt-1 flex flex-wrap gap-x-4 gap-y-2 items-end">
          <div>
            <label className="label" htmlFor="start">
              first mix ({zone}){plan.start_is_chosen ? "" : ", proposed"}
            </label>
            <input
              id="start"
              type="datetime-local"
              className="box max-w-60"
              value={typed}
              step={300}
              onChange={(event) => setTyped(event.target.value)}
              onBlur={() => typed && typed !== proposed && void set(fromWall(typed, zone))}
            />
          </div>
          {plan.start_is_chosen ? (
            <button className="quiet" onClick={() => void set(null)}>
              Clear my start; suggest one
            </button>
          ) : (
            <button className="key" onClick={() => void set(plan.start_at)}>
              Set this start
            </button>
          )}
        </div>
      ) : (
        <p className="mt-1 text-slate">Measure a void and choose a system first.</p>
      )}
      {problem ? (
        <p role="alert" className="text-rust text-[13px]">
          {problem}
        </p>
      ) : null}
      <section aria-label="Clock of this piece" className="mt-2">
        <BigClock hot onStart={(at) => void set(at.toISOString())} />
      </section>
      {(stored.piece.later_mixes ?? []).length ? (
        <p className="mt-2 text-[13px]">
          {stored.piece.later_mixes!.length} later{" "}
          {stored.piece.later_mixes!.length === 1 ? "pour is" : "pours are"} fixed on the workshop's clock.{" "}
          <button
            className="quiet"
            onClick={() =>
              void edits.edit("later pours free again", (piece) => ({ ...piece, later_mixes: [] }))
            }
          >
            Leave them free
          </button>
        </p>
      ) : null}
      {(stored.piece.coats ?? []).length ? (
        <label className="mt-2 flex gap-2 items-start min-h-7 text-[13.5px]">
          <input
            type="checkbox"
            className="mt-1"
            checked={stored.piece.spare_coat ?? false}
            onChange={(event) => {
              const spare_coat = event.target.checked;
              void edits.edit("one more coat, perhaps", (piece) => ({ ...piece, spare_coat }));
            }}
          />{" "}
          The last coat may have to be made again: keep stock for it, decide at the inspection
        </label>
      ) : null}
      {plan.pours.length ? (
        <Advice
          pieceId={stored.id}
          revision={stored.revision}
          zone={zone}
          bands={plan.starts ?? []}
          start={plan.start_at}
          onSet={(at) => void set(at)}
        />
      ) : null}
      <ul
        aria-label="Visits"
        className="mt-3 grid gap-x-8 grid-cols-[repeat(auto-fill,minmax(min(300px,100%),1fr))] border-t border-line"
      >
        {(plan.clock?.pins ?? []).map((pin, index) => (
          <Visit key={index} when={moment(pin.at, zone)} what={pin.label} why={pin.why} />
        ))}
        {plan.pours.length ? (
          plan.totals.ready_at ? (
            <Visit when={moment(plan.totals.ready_at, zone)} what="fully cured" />
          ) : (
            <Visit
              when={<span className="text-rust">never</span>}
              what="fully cured, in this room: Layers says what warmth it takes"
            />
          )
        ) : null}
      </ul>
      <Steps steps={plan.steps ?? []} zone={zone} />
    </Spread>
  );
}

function Visit({ when, what, why }: { when: ReactNode; what: string; why?: string }) {
  return (
    <li className="grid grid-cols-[92px_1fr] gap-2 py-2 text-[13.5px] border-b border-line content-start">
      <b className="font-semibold">{when}</b>
      <span>
        {what}
        {why ? <span className="block text-[12.5px] text-slate">{why}</span> : null}
      </span>
    </li>
  );
}

/** When to begin: what follows from some starts of the next two working days. Worked out only when asked. */
function Advice({
  pieceId,
  revision,
  zone,
  bands,
  start,
  onSet,
}: {
  pieceId: number;
  revision: number;
  zone: string;
  bands: NonNullable<Plan["starts"]>;
  start: string | null;
  onSet: (at: string) => void;
}) {
  const [open, setOpen] = useState(false);
  const found = useQuery({
    queryKey: ["starts", pieceId, revision],
    enabled: open,
    queryFn: async () => (await adviseStarts(pieceId)).starts,
  });
  return (
    <details className="mt-2" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="quiet">When should I begin?</summary>
      {bands.length ? <StartDays bands={bands} start={start} zone={zone} onSet={onSet} /> : null}
      {found.data ? (
        <ul className="rule">
          {found.data.map((one) => (
            <li key={one.start_at} className="py-1.5 text-[13px]">
              {one.words}{" "}
              {one.missed ? (
                <b className="text-rust font-semibold">
                  {one.missed} {one.missed === 1 ? "window meets" : "windows meet"} nobody.
                </b>
              ) : (
                "Every window meets your hours."
              )}{" "}
              <button
                className="quiet"
                aria-label={`Start ${moment(one.start_at, zone)}`}
                onClick={() => onSet(one.start_at)}
              >
                Start {moment(one.start_at, zone)}
              </button>
            </li>
          ))}
          {found.data.length === 0 ? (
            <li className="py-1.5 text-slate">Nobody is there long enough in the next days.</li>
          ) : null}
        </ul>
      ) : (
        <p className="text-[13px] text-slate">
          {found.error ? found.error.message : "Working out each start …"}
        </p>
      )}
      <Link className="quiet" to="/workshop">
        All pieces together, on the workshop's clock
      </Link>
    </details>
  );
}

/** Every step in order, each with its window; what falls outside the hours of people is said. */
function Steps({ steps, zone }: { steps: NonNullable<Plan["steps"]>; zone: string }) {
  if (!steps.length) return null;
  return (
    <details className="mt-2">
      <summary className="quiet">Every step, {steps.length} in all</summary>
      <ol className="rule">
        {steps.map((step, index) => (
          <li key={index} className="grid grid-cols-[92px_1fr] gap-2 py-1.5 text-[13px]">
            <b className="font-semibold">{moment(step.at ?? step.earliest, zone)}</b>
            <span>
              <b className="font-semibold">{step.title}</b>
              {typeof step.pour === "number" ? <span className="text-slate">, pour {step.pour}</span> : null}
              <span className="block">{step.text}</span>
              <span className="block text-[12.5px] text-slate">
                {step.why}{" "}
                {step.latest && step.latest !== step.earliest
                  ? `From ${moment(step.earliest, zone)} to ${moment(step.latest, zone)}.`
                  : ""}
                {step.tools ? ` With: ${step.tools}.` : ""}
              </span>
              {step.at ? null : <span className="block text-rust font-medium">Nobody is here then.</span>}
            </span>
          </li>
        ))}
      </ol>
    </details>
  );
}
