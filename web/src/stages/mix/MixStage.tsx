/** Mix: a card a batch with what to weigh, in the order of weighing; batches alike share a card. */
import type { Plan } from "../../api/queries";
import type { Schemas } from "../../api/client";
import { duration, moment, onTheScale } from "../../domain/format";
import { Fig } from "../../ui/Fig";
import { useUnits } from "../../ui/session";
import { PotClock } from "./PotClock";
import { Verdicts } from "../../ui/Verdicts";
import type { StageProps } from "../Workspace";

type Batch = Schemas["BatchPlan"];

export function MixStage({ plan }: StageProps) {
  const { zone } = useUnits();
  if (!plan.pours.length) return <><h2 className="mt-2">What do I weigh?</h2><p className="mt-1 text-slate">Measure a void and choose a system first.</p><Verdicts verdicts={plan.verdicts} stage="mix" /></>;
  return (
    <>
      <h2 className="mt-2">What do I weigh?</h2>
      {plan.pours.map((pour) => {
        const pin = plan.clock?.pins.find((one) => one.label === `mix, ${pour.called}`);
        return (
          <section key={pour.number} aria-label={title(pour.called)} className="mt-3">
            <div className="flex items-baseline justify-between border-b border-ink pb-1">
              <h3 className="font-semibold text-[15px]">{title(pour.called)}</h3>
              <span className="text-[13px] text-slate">{pin ? `${moment(pin.at, zone)} · ` : ""}<Fig figure={pour.mass} plan={plan} className="text-ink font-semibold" /> in all</span>
            </div>
            {groups(pour.batches).map((batches) => <BatchCard key={batches[0].number} batches={batches} plan={plan} />)}
          </section>
        );
      })}
      <Verdicts verdicts={plan.verdicts} stage="mix" />
      <section className="mt-4"><h2>With care</h2>{plan.cautions.map((caution) => <p key={caution} className="mt-1 text-[13px]">{caution}</p>)}</section>
    </>
  );
}

function groups(batches: Batch[]): Batch[][] {
  const found: Batch[][] = [];
  for (const batch of batches) {
    const alike = found.at(-1);
    if (alike && alike[0].mass.working === batch.mass.working) alike.push(batch);
    else found.push([batch]);
  }
  return found;
}

function BatchCard({ batches, plan }: { batches: Batch[]; plan: Plan }) {
  const batch = batches[0];
  const title = batches.length > 1 ? `${batches.length} batches alike, each` : `Batch ${batch.number}`;
  return (
    <article className="py-2.5 border-b border-line">
      <p className="text-[13px] text-slate">{title}{batch.colour ? `, ${batch.colour}` : ""} · {batch.system_name}</p>
      <table className="w-full mt-1">
        <tbody>
          {batch.parts.map((part, index) => {
            const weight = onTheScale(part.mass.value);
            return (
              <tr key={part.part} className="align-baseline">
                <th scope="row" className="text-left font-semibold pr-2 w-[1%] whitespace-nowrap">{index === 0 ? "" : "then "}{part.part}</th>
                <td className="whitespace-nowrap"><Fig figure={part.mass} plan={plan} as={{ number: weight.grams, unit: "g" }} className="text-[27px] font-semibold leading-tight" /></td>
                <td className="text-right text-[12px] text-slate">
                  <div>{weight.ounces}</div>
                  <div className="min-h-7"><Fig figure={part.volume} plan={plan} unitClass="" /></div>
                  {index > 0 ? <div className="min-h-7">not tared: <Fig figure={part.cumulative} plan={plan} unitClass="" as={{ number: onTheScale(part.cumulative.value).grams, unit: "g" }} /></div> : null}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <dl className="mt-1.5 grid grid-cols-2 gap-x-4 gap-y-1 text-[13px]">
        <Row name="cup filled"><Fig figure={batch.cup_fill} plan={plan} unitClass="" /></Row>
        <Row name="stir">{minutes(batch.stir_s)}</Row>
        <Row name="rest">{batch.rest_s ? minutes(batch.rest_s) : "none"}</Row>
        <Row name="pour within"><Fig figure={batch.pour_within} plan={plan} unitClass="" /></Row>
        <Row name="colour at most"><Fig figure={batch.colourant_most} plan={plan} unitClass="" /></Row>
        <Row name="ratio off by"><Fig figure={batch.ratio_error} plan={plan} unitClass="" /></Row>
      </dl>
      {batch.pot ? <PotClock pot={batch.pot} plan={plan} /> : null}
    </article>
  );
}

function Row({ name, children }: { name: string; children: React.ReactNode }) {
  return <div className="flex justify-between gap-2 min-h-6"><dt className="text-slate">{name}</dt><dd className="font-medium">{children}</dd></div>;
}

function minutes(seconds: number): string {
  const { number, unit } = duration(seconds);
  return `${number} ${unit}`;
}

function title(called: string): string {
  return called[0].toUpperCase() + called.slice(1);
}
