/** What a first look answers: what to weigh, how to stir, until when, what comes next, and what was taken for
 *  granted. */
import type { FieldProblem, Schemas } from "../../api/client";
import type { Plan } from "../../api/queries";
import { degrees, onTheScale } from "../../domain/format";
import { Fig } from "../../ui/Fig";
import { Shape } from "../../ui/Verdicts";
import { useUnits } from "../../ui/session";
import { minutes } from "../../stages/mix/minutes";
import type { FirstAnswer } from "./benches";

interface Props {
  answer: FirstAnswer | null;
  problem: FieldProblem | null;
  classes: Schemas["Sheet"][];
  shelf: Schemas["Sheet"][];
  isBusy: boolean;
  /** the answer is still that to what was typed before */
  isLate: boolean;
  onSystem: (id: string) => void;
  onTaken: (key: string) => void;
  onKeep: (weigh: boolean) => void;
}

export function Answer({
  answer,
  problem,
  classes,
  shelf,
  isBusy,
  isLate,
  onSystem,
  onTaken,
  onKeep,
}: Props) {
  if (!answer) return <p className="text-slate">{problem ? problem.message : "…"}</p>;
  const plan = answer.plan;
  const batch = plan?.pours[0]?.batches[0];
  const onShelf = new Set(shelf.map((one) => one.system.id));
  return (
    <div className={`grid gap-3 ${isLate ? "late" : ""}`} aria-live="polite" aria-busy={isLate}>
      <div data-asks="system_id">
        <label htmlFor="first-system" className="label">
          {plan && plan.pours.length > 1 ? `Pour 1 of ${plan.pours.length}, with` : "With"}
        </label>
        <select
          id="first-system"
          className="box font-serif text-[18px]"
          value={answer.system_id}
          onChange={(event) => onSystem(event.target.value)}
        >
          {[...shelf, ...classes.filter((one) => !onShelf.has(one.system.id))].map(({ system }) => (
            <option key={system.id} value={system.id}>
              {system.name}
              {onShelf.has(system.id) ? "" : ", typical"}
            </option>
          ))}
        </select>
      </div>
      {problem ? (
        <p className="text-slate">The weights follow once that is right.</p>
      ) : plan && batch ? (
        <Weights plan={plan} batch={batch} />
      ) : (
        <p className="text-slate">
          {answer.missing.length
            ? `Still to measure: ${answer.missing.map((key) => answer.asks.find((one) => one.key === key)!.label).join(", ")}.`
            : (plan?.verdicts.find((one) => one.weight === "blocker")?.text ?? "Nothing to weigh.")}
        </p>
      )}
      {plan ? <Wrong plan={plan} /> : null}
      {plan && answer.taken?.length ? (
        <p className="text-[13px]">
          Taken for now{answer.taken.some((one) => one.key) ? ", tap to change" : ""}:{" "}
          {answer.taken.map((one, index) => (
            <span key={one.words}>
              {index ? ", " : ""}
              {one.key ? (
                <button
                  className="underline underline-offset-3 decoration-spruce min-h-6"
                  onClick={() => onTaken(one.key)}
                >
                  {one.words}
                </button>
              ) : (
                one.words
              )}
            </span>
          ))}
          .
        </p>
      ) : null}
      <div className="flex flex-wrap gap-4 items-center" data-answer>
        <button
          className="key max-sm:min-h-12"
          disabled={!plan || !!problem || isBusy || isLate}
          onClick={() => onKeep(false)}
        >
          Keep it as a piece
        </button>
        <button
          className="quiet disabled:opacity-50"
          disabled={!batch || !!problem || isBusy || isLate}
          onClick={() => onKeep(true)}
        >
          Weigh it now
        </button>
      </div>
      {plan?.pours.length ? <p className="text-[12.5px] text-slate">{plan.cautions[0]}</p> : null}
    </div>
  );
}

type Batch = Schemas["BatchPlan"];

function Weights({ plan, batch }: { plan: Plan; batch: Batch }) {
  const { units } = useUnits();
  const pour = plan.pours[0]!;
  const window = plan.windows?.[0];
  const heat = pour.layers[0]?.heat;
  const count = pour.batches.length;
  // The rest lies within the time to pour, as in the run's own script.
  const poured = batch.stir_s + (batch.stir_again_s ?? 0) + batch.pour_within.value;
  const last = plan.windows?.at(-1);
  const spans = (from: number | null | undefined, to: number | null | undefined) =>
    from === null || from === undefined
      ? "never in this room"
      : to === null || to === undefined
        ? `from ${minutes(from)} on`
        : `${span(from, to)} later`;
  return (
    <dl className="grid" aria-label="What to weigh">
      {count > 1 ? <p className="text-[13px] text-slate">{count} batches, each</p> : null}
      {batch.parts.map((part, index) => {
        const weight = onTheScale(part.mass.value);
        return (
          <div
            key={part.part}
            className="flex justify-between items-baseline gap-3 py-1.5 border-b border-line"
          >
            <dt className="text-slate whitespace-nowrap">
              {index ? "then " : ""}part {part.part}
            </dt>
            <dd className="text-right">
              <Fig
                figure={part.mass}
                plan={plan}
                as={{ number: weight.grams, unit: "g" }}
                className="text-[28px] font-semibold leading-tight"
              />
              <span className="block text-[12px] text-slate">
                <Fig figure={part.volume} plan={plan} unitClass="" /> · {weight.ounces}
                {index ? ` · reads ${onTheScale(part.cumulative.value).grams} g if not tared` : ""}
              </span>
            </dd>
          </div>
        );
      })}
      <Line name="stir">
        {minutes(batch.stir_s)}
        {batch.stir_again_s ? `, new cup, ${minutes(batch.stir_again_s)}` : ""}
      </Line>
      <Line name="on the piece by">{minutes(poured)} after the first stir</Line>
      {pour.called.startsWith("coat") || plan.pours.length > 1 ? (
        <Line name={pour.called.startsWith("coat") ? "next coat, no sanding" : "next pour, no sanding"}>
          {spans(window?.opens_s, window?.closes_s)}
        </Line>
      ) : null}
      {pour.called.startsWith("coat") ? (
        <Line name="may be handled">
          {last?.demould_s ? `${minutes(last.demould_s)} after the last coat` : "never in this room"}
        </Line>
      ) : (
        <Line name="out of the form">
          {last?.demould_s ? `${minutes(last.demould_s)} after the last pour` : "never in this room"}
        </Line>
      )}
      {heat ? (
        <Line name="gets to">
          <Fig figure={heat.peak} plan={plan} as={{ number: degrees(heat.peak.value, units), unit: "" }} />
          {heat.chance
            ? `, ${degrees(heat.chance.low_c, units)} to ${degrees(heat.chance.high_c, units)} in eight of ten`
            : ""}
        </Line>
      ) : null}
    </dl>
  );
}

const UNITS: [least: number, seconds: number, unit: string][] = [
  [2 * 86_400, 86_400, "days"],
  [7200, 3600, "h"],
  [0, 60, "min"],
];

/** Two times in the unit of the later one: "2.1 to 3.4 days". */
function span(from: number, to: number): string {
  const [, seconds, unit] = UNITS.find(([least]) => to >= least)!;
  return `${Number((from / seconds).toPrecision(2))} to ${Number((to / seconds).toPrecision(3))} ${unit}`;
}

function Line({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div className="flex justify-between items-baseline gap-3 py-1.5 border-b border-line">
      <dt className="text-slate">{name}</dt>
      <dd className="font-semibold text-right">{children}</dd>
    </div>
  );
}

/** What is likely to go wrong: what stops the job first, at most three. */
function Wrong({ plan }: { plan: Plan }) {
  const said = plan.verdicts.filter((one) => one.weight !== "note").slice(0, 3);
  if (!said.length) return null;
  return (
    <ul className="grid gap-1.5 text-[13px]" aria-label="What may go wrong">
      {said.map((one) => (
        <li key={one.code} className="grid grid-cols-[22px_1fr] gap-1">
          <Shape weight={one.weight} />
          <span>
            <b className="font-semibold">{one.title}.</b> {one.todo}
          </span>
        </li>
      ))}
    </ul>
  );
}
