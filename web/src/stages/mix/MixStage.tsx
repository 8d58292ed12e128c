/** Mix: a slip a batch, large enough to read from the scale, in the order of weighing; batches alike share one. */
import { Link } from "react-router";
import { usePieceStock, useWeighings, type Plan } from "../../api/queries";
import type { Schemas } from "../../api/client";
import { moment, onTheScale, text } from "../../domain/format";
import { Fig } from "../../ui/Fig";
import { useUnits } from "../../ui/session";
import { Cautions, Verdicts } from "../../ui/Verdicts";
import { Waiting } from "../../ui/states";
import type { StageProps } from "../props";
import { Spread } from "../Spread";
import { AnyAmount } from "./AnyAmount";
import { Colours } from "./Colours";
import { minutes } from "./minutes";
import { PotClock } from "./PotClock";

export type Batch = Schemas["BatchPlan"];

const QUESTION = "What do I weigh?";

export function MixStage({ stored, plan }: StageProps) {
  const { zone } = useUnits();
  const weighed = useWeighings(stored.id);
  const stock = usePieceStock(stored.id, stored.revision);
  if (!plan.pours.length)
    return (
      <Spread question={QUESTION} side={<Verdicts verdicts={plan.verdicts} stage="mix" />}>
        <p className="mt-1 text-slate">
          {stored.piece.system_id ? (
            <Link className="quiet" to={`/pieces/${stored.id}/measure`}>
              Measure a void or a coat first
            </Link>
          ) : (
            <Link className="quiet" to={`/pieces/${stored.id}/resin`}>
              Choose a resin first
            </Link>
          )}
        </p>
      </Spread>
    );
  // Which batch is next hangs on what is weighed already: no key is offered before that is known.
  if (stock.isPending || weighed.isPending)
    return (
      <Spread question={QUESTION} strip="none">
        <Waiting error={null} what="the batches" />
      </Spread>
    );
  const isDone = (pour: number, batch: number) =>
    (weighed.data ?? []).some((row) => row.pour === pour && row.batch === batch && row.ended === "mixed");
  const all = plan.pours.flatMap((pour) =>
    pour.batches.map((batch) => ({ pour: pour.number, batch: batch.number })),
  );
  const next = weighed.data && all.find((one) => !isDone(one.pour, one.batch));
  return (
    <Spread
      question={QUESTION}
      tools={
        <Link className="quiet text-[13px]" to={`/pieces/${stored.id}/sheet`}>
          Print the sheet
        </Link>
      }
      side={
        <>
          <Verdicts verdicts={stock.data?.verdicts ?? []} title="On the shelf" />
          <Verdicts verdicts={plan.verdicts} stage="mix" />
          {stored.piece.system_id ? (
            <AnyAmount systemId={stored.piece.system_id} pieceId={stored.id} />
          ) : null}
          <Cautions cautions={plan.cautions} />
        </>
      }
    >
      {weighed.error ? (
        <p role="alert" className="text-rust">
          Which batches are mixed already could not be read. {weighed.error.message}
        </p>
      ) : null}
      <div className="mt-2 grid gap-x-8 gap-y-5 grid-cols-[repeat(auto-fill,minmax(min(320px,100%),1fr))]">
        {plan.pours.map((pour) => {
          const pin = plan.clock?.pins.find((one) => one.label === `mix, ${pour.called}`);
          return (
            <section key={pour.number} aria-label={title(pour.called)} className="grid content-start gap-4">
              {groups(pour.batches).map((batches, index) => (
                <Slip
                  key={batches[0]!.number}
                  heading={headingOf(pour, batches)}
                  when={index === 0 && pin ? moment(pin.at, zone) : ""}
                  pieceId={stored.id}
                  pour={pour.number}
                  batches={batches}
                  plan={plan}
                  weighed={(weighed.data ?? []).filter((one) => one.pour === pour.number)}
                  next={next?.pour === pour.number ? next.batch : null}
                />
              ))}
              {pour.batches.length > 1 ? (
                <p className="text-[13px] text-slate">
                  <Fig figure={pour.mass} plan={plan} className="text-ink font-semibold" /> in all
                </p>
              ) : null}
            </section>
          );
        })}
      </div>
    </Spread>
  );
}

export function groups(batches: Batch[]): Batch[][] {
  const found: Batch[][] = [];
  for (const batch of batches) {
    const alike = found.at(-1);
    if (alike && alike[0]!.mass.working === batch.mass.working) alike.push(batch);
    else found.push([batch]);
  }
  return found;
}

const COUNTS = ["no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine"];

function headingOf(pour: Plan["pours"][number], batches: Batch[]): string {
  const name = title(pour.called);
  if (batches.length > 1) return `${name}, ${COUNTS[batches.length] ?? batches.length} batches alike`;
  return pour.batches.length > 1 ? `${name}, batch ${batches[0]!.number}` : name;
}

interface SlipProps {
  heading: string;
  when: string;
  pieceId: number;
  pour: number;
  batches: Batch[];
  plan: Plan;
  weighed: Schemas["WeighingRow"][];
  /** the batch of this pour that comes next of all; null: another pour's */
  next: number | null;
}

function Slip({ heading, when, pieceId, pour, batches, plan, weighed, next }: SlipProps) {
  const batch = batches[0]!;
  const { units } = useUnits();
  const many = (batch.hollows ?? 1) > 1 && batches.length <= (batch.hollows ?? 1);
  return (
    <article aria-label={heading}>
      <p className="flex justify-between gap-3 border-b border-ink pb-1 text-[14px]">
        <b className="font-semibold">{heading}</b>
        <span className="text-slate">{when}</span>
      </p>
      <p className="text-[13px] text-slate mt-1">
        {batch.system_name}
        {batch.colour ? `, ${batch.colour}` : ""}
        {batches.length > 1 ? "; each of them:" : ""}
      </p>
      <Parts batch={batch} plan={plan} />
      <Cup batch={batch} plan={plan} />
      <dl className="mt-2 flex flex-wrap gap-x-6 gap-y-1.5">
        <Said name="stir">
          {minutes(batch.stir_s)}
          {batch.stir_again_s ? `, new cup ${minutes(batch.stir_again_s)}` : ""}
        </Said>
        <Said name="pour within">
          <Fig figure={batch.pour_within} plan={plan} unitClass="" />
        </Said>
        {batch.rest_s ? <Said name="rest, inside that">{minutes(batch.rest_s)}</Said> : null}
        <Said name="ratio off by">
          <Fig figure={batch.ratio_error} plan={plan} unitClass="" />
        </Said>
      </dl>
      {many ? (
        <p className="mt-1.5 text-[13px]">
          {batches.length === 1
            ? `All ${batch.hollows} hollows are filled from this batch`
            : `${batch.hollows} hollows are filled from ${batches.length} batches`}
          , before it thickens.
        </p>
      ) : null}
      <Colours batch={batch} plan={plan} />
      <p className="mt-2.5 flex flex-wrap gap-2 items-center">
        {batches.map((one) => {
          const done = weighed.filter((row) => row.batch === one.number && row.ended === "mixed").at(-1);
          const open = weighed.some((row) => row.batch === one.number && !row.ended);
          const which = batches.length > 1 || one.number > 1 ? `batch ${one.number}` : "it";
          return (
            <Link
              key={one.number}
              className={
                done ? "quiet text-[13px]" : one.number === next ? "key link-key" : "key link-key waiting"
              }
              to={`/pieces/${pieceId}/weigh/${pour}/${one.number}`}
            >
              {done
                ? `Batch ${one.number} was weighed, ${text(done.mass_a_kg + done.mass_b_kg, "mass", units)}; weigh it again`
                : `${open ? "Go on weighing" : "Weigh"} ${which}`}
            </Link>
          );
        })}
      </p>
      <details className="mt-1.5 text-[13px]">
        <summary className="quiet">The batch in its cup, colour limit, cup lines</summary>
        <dl className="flex flex-wrap gap-x-6 gap-y-1.5">
          <Said name="colour at most">
            <Fig figure={batch.colourant_most} plan={plan} unitClass="" />
          </Said>
          {batch.line_error ? (
            <Said name="off by, measured by cup lines">
              <Fig figure={batch.line_error} plan={plan} unitClass="" />
            </Said>
          ) : null}
          {batch.pump ? (
            <Said name="by pump">
              {batch.pump.strokes_a} A, {batch.pump.strokes_b} B
            </Said>
          ) : null}
        </dl>
        {batch.pot ? <PotClock pot={batch.pot} plan={plan} /> : null}
      </details>
    </article>
  );
}

/** The cup lying on its side: how full it gets, and how much of that is each part. */
function Cup({ batch, plan }: { batch: Batch; plan: Plan }) {
  const full = Math.min(batch.cup_fill.value, 1);
  const all = batch.parts.reduce((sum, part) => sum + part.volume.value, 0);
  const first = all ? (full * batch.parts[0]!.volume.value) / all : 0;
  return (
    <div className="mt-1.5">
      <svg
        width="100%"
        height="13"
        aria-hidden
        className="block"
        preserveAspectRatio="none"
        viewBox="0 0 100 13"
      >
        <rect x="0" y="0" width={100 * first} height="13" fill="var(--liquid)" />
        <rect x={100 * first} y="0" width={100 * (full - first)} height="13" fill="var(--spruce-soft)" />
        <rect
          x="0"
          y="0"
          width="100"
          height="13"
          fill="none"
          className="stroke-ink"
          strokeWidth="2"
          vectorEffect="non-scaling-stroke"
        />
      </svg>
      <p className="text-[13px] text-slate">
        the cup is filled to <Fig figure={batch.cup_fill} plan={plan} unitClass="" />
      </p>
    </div>
  );
}

export function Parts({ batch, plan }: { batch: Batch; plan: Plan }) {
  return (
    <table className="w-full">
      <tbody>
        {batch.parts.map((part, index) => {
          const weight = onTheScale(part.mass.value);
          return (
            <tr key={part.part} className="align-baseline">
              <th scope="row" className="text-left font-semibold pr-3 w-[1%] whitespace-nowrap text-[15px]">
                {index === 0 ? "" : "then "}
                {part.part}
              </th>
              <td className="whitespace-nowrap">
                <Fig
                  figure={part.mass}
                  plan={plan}
                  as={{ number: weight.grams, unit: "g" }}
                  className="text-[44px] font-semibold leading-tight tabular-nums"
                />
              </td>
              <td className="text-right text-[13px] text-slate leading-tight">
                <div>{weight.ounces}</div>
                <div className="min-h-7">
                  <Fig figure={part.volume} plan={plan} unitClass="" />
                </div>
                {index > 0 ? (
                  <div className="min-h-7">
                    not tared:{" "}
                    <Fig
                      figure={part.cumulative}
                      plan={plan}
                      unitClass=""
                      as={{ number: onTheScale(part.cumulative.value).grams, unit: "g" }}
                    />
                  </div>
                ) : null}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function Said({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div className="leading-tight">
      <dt className="text-[13px] text-slate">{name}</dt>
      <dd className="text-[15px] font-semibold">{children}</dd>
    </div>
  );
}

export function title(called: string): string {
  return called[0]!.toUpperCase() + called.slice(1);
}
