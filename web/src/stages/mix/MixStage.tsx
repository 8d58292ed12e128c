/** Mix: a card a batch with what to weigh, in the order of weighing; batches alike share a card. */
import { Link } from "react-router";
import { usePieceStock, useWeighings, type Plan } from "../../api/queries";
import type { Schemas } from "../../api/client";
import { moment, onTheScale, text } from "../../domain/format";
import { Fig } from "../../ui/Fig";
import { useUnits } from "../../ui/session";
import { Verdicts } from "../../ui/Verdicts";
import type { StageProps } from "../props";
import { AnyAmount } from "./AnyAmount";
import { Colours } from "./Colours";
import { minutes } from "./minutes";
import { PotClock } from "./PotClock";

export type Batch = Schemas["BatchPlan"];

export function MixStage({ stored, plan }: StageProps) {
  const { zone } = useUnits();
  const weighed = useWeighings(stored.id);
  const stock = usePieceStock(stored.id, stored.revision);
  if (!plan.pours.length)
    return (
      <>
        <h2 className="mt-2">What do I weigh?</h2>
        <p className="mt-1 text-slate">Measure a void and choose a system first.</p>
        <Verdicts verdicts={plan.verdicts} stage="mix" />
      </>
    );
  return (
    <>
      <div className="mt-2 flex justify-between items-baseline gap-2">
        <h2>What do I weigh?</h2>
        <Link className="quiet text-[13px]" to={`/pieces/${stored.id}/mix-sheet`}>
          Print view
        </Link>
      </div>
      <Verdicts verdicts={stock.data?.verdicts ?? []} title="On the shelf" />
      {plan.pours.map((pour) => {
        const pin = plan.clock?.pins.find((one) => one.label === `mix, ${pour.called}`);
        return (
          <section key={pour.number} aria-label={title(pour.called)} className="mt-3">
            <div className="flex items-baseline justify-between border-b border-ink pb-1">
              <h3 className="font-semibold text-[15px]">{title(pour.called)}</h3>
              <span className="text-[13px] text-slate">
                {pin ? `${moment(pin.at, zone)} · ` : ""}
                <Fig figure={pour.mass} plan={plan} className="text-ink font-semibold" /> in all
              </span>
            </div>
            {groups(pour.batches).map((batches) => (
              <BatchCard
                key={batches[0]!.number}
                pieceId={stored.id}
                pour={pour.number}
                batches={batches}
                plan={plan}
                weighed={(weighed.data ?? []).filter((one) => one.pour === pour.number)}
              />
            ))}
          </section>
        );
      })}
      {stored.piece.system_id ? <AnyAmount systemId={stored.piece.system_id} /> : null}
      <Verdicts verdicts={plan.verdicts} stage="mix" />
      <section className="mt-4">
        <h2>With care</h2>
        {plan.cautions.map((caution) => (
          <p key={caution} className="mt-1 text-[13px]">
            {caution}
          </p>
        ))}
      </section>
    </>
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

interface CardProps {
  pieceId: number;
  pour: number;
  batches: Batch[];
  plan: Plan;
  weighed: Schemas["WeighingRow"][];
}

function BatchCard({ pieceId, pour, batches, plan, weighed }: CardProps) {
  const batch = batches[0]!;
  const { units } = useUnits();
  const heading = batches.length > 1 ? `${batches.length} batches alike, each` : `Batch ${batch.number}`;
  const many = (batch.hollows ?? 1) > 1 && batches.length <= (batch.hollows ?? 1);
  return (
    <article className="py-2.5 border-b border-line">
      <p className="text-[13px] text-slate">
        {heading}
        {batch.colour ? `, ${batch.colour}` : ""} · {batch.system_name}
      </p>
      <Parts batch={batch} plan={plan} />
      <dl className="mt-1.5 grid grid-cols-2 gap-x-4 gap-y-1 text-[13px]">
        <Row name="cup filled">
          <Fig figure={batch.cup_fill} plan={plan} unitClass="" />
        </Row>
        <Row name="stir">{minutes(batch.stir_s)}</Row>
        {batch.stir_again_s ? <Row name="in a second cup">{minutes(batch.stir_again_s)}</Row> : null}
        <Row name="rest">{batch.rest_s ? minutes(batch.rest_s) : "none"}</Row>
        <Row name="pour within">
          <Fig figure={batch.pour_within} plan={plan} unitClass="" />
        </Row>
        <Row name="ratio off by">
          <Fig figure={batch.ratio_error} plan={plan} unitClass="" />
        </Row>
        {batch.line_error ? (
          <Row name="by cup lines">
            <Fig figure={batch.line_error} plan={plan} unitClass="" />
          </Row>
        ) : null}
        <Row name="colour at most">
          <Fig figure={batch.colourant_most} plan={plan} unitClass="" />
        </Row>
        {batch.pump ? (
          <Row name="by pump">
            {batch.pump.strokes_a} A, {batch.pump.strokes_b} B
          </Row>
        ) : null}
      </dl>
      {many ? (
        <p className="mt-1 text-[13px]">
          {batches.length === 1
            ? `All ${batch.hollows} hollows are filled from this batch`
            : `${batch.hollows} hollows are filled from ${batches.length} batches`}
          , before it thickens.
        </p>
      ) : null}
      <Colours batch={batch} plan={plan} />
      {batch.pot ? <PotClock pot={batch.pot} plan={plan} /> : null}
      <p className="mt-2 flex flex-wrap gap-2 items-center">
        {batches.map((one) => {
          const done = weighed.filter((row) => row.batch === one.number && row.ended === "mixed").at(-1);
          const open = weighed.some((row) => row.batch === one.number && !row.ended);
          return (
            <Link
              key={one.number}
              className={done ? "quiet text-[13px]" : "key inline-grid content-center text-[13px]"}
              to={`/pieces/${pieceId}/weigh/${pour}/${one.number}`}
            >
              {done
                ? `Batch ${one.number} was weighed, ${text(done.mass_a_kg + done.mass_b_kg, "mass", units)}; weigh it again`
                : `${open ? "Go on weighing" : "Weigh"}${batches.length > 1 || one.number > 1 ? ` batch ${one.number}` : " it"}`}
            </Link>
          );
        })}
      </p>
    </article>
  );
}

export function Parts({ batch, plan }: { batch: Batch; plan: Plan }) {
  return (
    <table className="w-full mt-1">
      <tbody>
        {batch.parts.map((part, index) => {
          const weight = onTheScale(part.mass.value);
          return (
            <tr key={part.part} className="align-baseline">
              <th scope="row" className="text-left font-semibold pr-2 w-[1%] whitespace-nowrap">
                {index === 0 ? "" : "then "}
                {part.part}
              </th>
              <td className="whitespace-nowrap">
                <Fig
                  figure={part.mass}
                  plan={plan}
                  as={{ number: weight.grams, unit: "g" }}
                  className="text-[27px] font-semibold leading-tight"
                />
              </td>
              <td className="text-right text-[12px] text-slate">
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

function Row({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div className="flex justify-between gap-2 min-h-6">
      <dt className="text-slate">{name}</dt>
      <dd className="font-medium">{children}</dd>
    </div>
  );
}

export function title(called: string): string {
  return called[0]!.toUpperCase() + called.slice(1);
}
