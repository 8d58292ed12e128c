/** The one sheet of paper of a piece, to stand at the bench: the section, what to weigh, the clock, the cautions, and the
 *  way to its run. Fits A4 and letter; what is long goes on to a second sheet between batches. */
import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { readPourAddress } from "../api/operations.generated";
import { usePiece, usePlan, type Plan, type Stored } from "../api/queries";
import type { Schemas } from "../api/client";
import { moment, onTheScale, text } from "../domain/format";
import { ClockRibbon } from "../drawing/ClockRibbon";
import { LittleSection } from "../drawing/LittleSection";
import { useUnits } from "../ui/session";
import { Waiting } from "../ui/states";
import { minutes } from "./mix/minutes";
import { title } from "./mix/MixStage";

export function BenchSheet() {
  const id = Number(useParams().id);
  const stored = usePiece(id);
  const plan = usePlan(id, stored.data?.revision);
  if (!stored.data || !plan.data) return <Waiting error={stored.error ?? plan.error} what="the sheet" />;
  return (
    <article className="paper max-w-[820px] mx-auto px-6 py-5 print:p-0 text-[15px]">
      <p className="no-print flex gap-4 mb-3">
        <button className="key" onClick={() => window.print()}>
          Print
        </button>
        <a className="quiet self-center" href={`/pieces/${id}/mix`}>
          Back to the piece
        </a>
      </p>
      <Head stored={stored.data} plan={plan.data} />
      <Drawings stored={stored.data} plan={plan.data} />
      {plan.data.pours.map((pour) => (
        <Pour key={pour.number} pour={pour} plan={plan.data} />
      ))}
      <section aria-label="With care" className="mt-4 break-inside-avoid">
        {plan.data.cautions.map((caution) => (
          <p key={caution} className="mt-1 text-[13px]">
            {caution}
          </p>
        ))}
      </section>
    </article>
  );
}

function Head({ stored, plan }: { stored: Stored; plan: Plan }) {
  const { units, zone } = useUnits();
  const where = useQuery({
    queryKey: ["pour address", stored.id],
    queryFn: () => readPourAddress(stored.id),
  }).data;
  const { totals } = plan;
  return (
    <header className="flex gap-6 items-start">
      <div className="grow">
        <h1 className="text-[26px]">{stored.piece.name}</h1>
        <p className="text-slate">
          {[
            stored.piece.for_whom,
            totals.net ? `${text(totals.net.value, totals.net.quantity, units)} to fill or cover` : "",
            totals.mass ? `${text(totals.mass.value, totals.mass.quantity, units)} in all` : "",
            totals.out_of_form_at ? `done ${moment(totals.out_of_form_at, zone)}` : "",
          ]
            .filter(Boolean)
            .join(" · ")}
        </p>
        {Object.values(plan.typical ?? {}).some((one) => one.length) ? (
          <p className="text-[13px]">
            Rests on typical values that nobody has compared with the data sheet yet.
          </p>
        ) : null}
      </div>
      {where?.qr_path ? (
        <figure className="text-center text-[12px] leading-tight w-[104px]">
          <svg
            viewBox={`-2 -2 ${where.qr_size! + 4} ${where.qr_size! + 4}`}
            width="96"
            height="96"
            role="img"
            aria-label="QR code of this piece's pour"
            shapeRendering="crispEdges"
          >
            <rect x="-2" y="-2" width={where.qr_size! + 4} height={where.qr_size! + 4} fill="#ffffff" />
            <path d={where.qr_path} fill="#000000" />
          </svg>
          <figcaption>the pour, on a paired phone</figcaption>
        </figure>
      ) : where ? (
        <p className="no-print text-[12px] text-slate w-40">
          A code for phones stands here once Cavatum is started for the network.
        </p>
      ) : null}
    </header>
  );
}

function Drawings({ stored, plan }: { stored: Stored; plan: Plan }) {
  const { zone, units } = useUnits();
  return (
    <>
      <div className="grid grid-cols-[repeat(auto-fill,minmax(220px,1fr))] gap-4 mt-3">
        {plan.sections.map((section) => {
          const layers = plan.pours
            .flatMap((pour) => pour.layers)
            .filter((layer) => layer.void_id === section.void_id);
          const name =
            plan.voids.find((one) => one.void_id === section.void_id)?.name ??
            plan.coats?.find((one) => one.coat_id === section.void_id)?.name;
          return (
            <figure key={section.void_id} className="break-inside-avoid">
              <LittleSection
                plan={plan}
                section={section}
                tint={stored.piece.tint ?? "#D39A3C"}
                cursor={null}
                tall={120}
              />
              <figcaption className="text-[13px]">
                <b className="font-semibold">{name}</b> (not to scale)
                {layers.length
                  ? `: ${layers
                      .map((layer) => `${layer.number}. ${text(layer.to_m - layer.from_m, "length", units)}`)
                      .join(", ")}`
                  : ""}
              </figcaption>
            </figure>
          );
        })}
      </div>
      {plan.clock ? (
        <div className="mt-3 break-inside-avoid">
          <ClockRibbon
            slim
            from={new Date(plan.clock.from_at)}
            to={new Date(plan.clock.to_at)}
            zone={zone}
            away={plan.clock.away}
            rows={plan.clock.rows}
            cursor={null}
            rowHeight={26}
          />
          <ul className="mt-1 grid grid-cols-[repeat(auto-fill,minmax(220px,1fr))] gap-x-6 text-[13px]">
            {plan.clock.pins.map((pin) => (
              <li key={`${pin.label}${pin.at}`}>
                <b className="font-semibold">{moment(pin.at, zone)}</b> {pin.label}
              </li>
            ))}
          </ul>
        </div>
      ) : null}
    </>
  );
}

function Pour({ pour, plan }: { pour: Plan["pours"][number]; plan: Plan }) {
  const { zone } = useUnits();
  const pin = plan.clock?.pins.find((one) => one.label === `mix, ${pour.called}`);
  return (
    <section className="mt-4" aria-label={title(pour.called)}>
      <h2 className="border-b-2 border-ink">
        {title(pour.called)}
        {pin ? <span className="text-[15px] font-sans text-slate"> {moment(pin.at, zone)}</span> : null}
      </h2>
      {pour.batches.map((batch) => (
        <BatchLines key={batch.number} batch={batch} of={pour.batches.length} />
      ))}
    </section>
  );
}

function BatchLines({ batch, of }: { batch: Schemas["BatchPlan"]; of: number }) {
  const { units } = useUnits();
  const colours = batch.colours ?? [];
  return (
    <div className="py-2 border-b border-line break-inside-avoid">
      <p className="text-slate">
        {of > 1 ? `Batch ${batch.number} of ${of} · ` : ""}
        {batch.system_name}
        {batch.colour ? ` · ${batch.colour}` : ""} · by weight, in grams
      </p>
      <table className="w-full mt-1">
        <tbody>
          {batch.parts.map((part, index) => (
            <Line
              key={part.part}
              name={`${index ? "then part" : "Part"} ${part.part}`}
              grams={onTheScale(part.mass.value).grams}
              more={`${text(part.volume.value, "volume", units)}${index ? ` · not tared ${onTheScale(part.cumulative.value).grams} g` : ""}`}
            />
          ))}
          {colours.flatMap((one) => [
            ...(colours.length > 1
              ? [
                  <Line
                    key={`${one.colour}-clear`}
                    name={`of it into ${one.colour || "clear"}`}
                    grams={onTheScale(one.clear.value).grams}
                    more="once it is stirred clear"
                  />,
                ]
              : []),
            ...one.doses.map((dose) => (
              <Line
                key={`${one.colour}-${dose.colourant_id}`}
                name={dose.name}
                grams={String(Number((dose.mass.value * 1000).toFixed(3)))}
                more={dose.drops ? `about ${dose.drops} drops` : ""}
              />
            )),
          ])}
        </tbody>
      </table>
      <p className="mt-1">
        Stir {minutes(batch.stir_s)}, scrape walls, bottom and stick
        {batch.stir_again_s ? `; clean cup, clean stick, ${minutes(batch.stir_again_s)} more` : ""}.{" "}
        {batch.rest_s ? `Rest ${minutes(batch.rest_s)}. ` : ""}Poured out within{" "}
        <b>{minutes(batch.pour_within.value)}</b> of the end of stirring
        {batch.rest_s ? ", rest included" : ""}. Leave what clings to the cup.
      </p>
    </div>
  );
}

function Line({ name, grams, more }: { name: string; grams: string; more: string }) {
  return (
    <tr className="align-baseline">
      <td className="w-6">
        <span className="inline-block w-4 h-4 border-[1.5px] border-ink" aria-hidden="true" />
        <span className="sr-only">to tick</span>
      </td>
      <th scope="row" className="text-left font-semibold w-[30%]">
        {name}
      </th>
      <td className="text-[24px] font-semibold tabular-nums text-right pr-4 whitespace-nowrap">{grams} g</td>
      <td className="text-slate text-[13px]">{more}</td>
      <td className="w-[20%] text-slate text-[13px] text-right max-sm:hidden print:table-cell">
        weighed ____________
      </td>
    </tr>
  );
}
