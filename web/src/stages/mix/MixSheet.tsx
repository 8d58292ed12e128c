/** The batches on paper: large figures, a box to tick and a line to write what was really weighed. */
import { useParams } from "react-router";
import { usePiece, usePlan } from "../../api/queries";
import { moment, onTheScale, text } from "../../domain/format";
import { useUnits } from "../../ui/session";
import { Waiting } from "../../ui/states";
import { minutes } from "./minutes";
import { title } from "./MixStage";

export function MixSheet() {
  const id = Number(useParams().id);
  const { units, zone } = useUnits();
  const stored = usePiece(id);
  const plan = usePlan(id, stored.data?.revision);
  if (!stored.data || !plan.data)
    return <Waiting error={stored.error ?? plan.error} what="the mixing sheet" />;
  return (
    <article className="max-w-[820px] mx-auto px-6 py-5 print:p-0 text-[15px]">
      <p className="no-print flex gap-4 mb-3">
        <button className="key" onClick={() => window.print()}>
          Print
        </button>
        <a className="quiet self-center" href={`/pieces/${id}/mix`}>
          Back to the piece
        </a>
      </p>
      <h1 className="text-[26px]">{stored.data.piece.name}: what to weigh</h1>
      <p className="text-slate">
        By weight, in grams.{" "}
        {plan.data.typical && Object.values(plan.data.typical).some((one) => one.length)
          ? "Rests on typical values that nobody has compared with the data sheet yet."
          : ""}
      </p>
      {plan.data.pours.map((pour) => {
        const pin = plan.data.clock?.pins.find((one) => one.label === `mix, ${pour.called}`);
        return (
          <section key={pour.number} className="mt-5">
            <h2 className="border-b-2 border-ink">
              {title(pour.called)}
              {pin ? <span className="text-[15px] font-sans text-slate"> {moment(pin.at, zone)}</span> : null}
            </h2>
            {pour.batches.map((batch) => (
              <div key={batch.number} className="py-3 border-b border-line break-inside-avoid">
                <p className="text-slate">
                  Batch {batch.number} of {pour.batches.length} · {batch.system_name}
                  {batch.colour ? ` · ${batch.colour}` : ""}
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
                    {(batch.colours ?? []).flatMap((one) => [
                      ...((batch.colours ?? []).length > 1
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
                  {batch.stir_again_s
                    ? `; clean cup, clean stick, ${minutes(batch.stir_again_s)} more`
                    : ""}. {batch.rest_s ? `Rest ${minutes(batch.rest_s)}. ` : ""}Poured out within{" "}
                  <b>{minutes(batch.pour_within.value)}</b> of the end of stirring
                  {batch.rest_s ? ", rest included" : ""}. Leave what clings to the cup.
                </p>
              </div>
            ))}
          </section>
        );
      })}
      {plan.data.cautions.map((caution) => (
        <p key={caution} className="mt-2 text-[13px]">
          {caution}
        </p>
      ))}
    </article>
  );
}

function Line({ name, grams, more }: { name: string; grams: string; more: string }) {
  return (
    <tr className="align-baseline">
      <td className="w-6">
        <span className="inline-block w-4 h-4 border-[1.5px] border-ink" aria-hidden="true" />
        <span className="sr-only">to tick</span>
      </td>
      <th scope="row" className="text-left font-semibold w-[34%]">
        {name}
      </th>
      <td className="text-[24px] font-semibold tabular-nums text-right pr-4 whitespace-nowrap">{grams} g</td>
      <td className="text-slate text-[13px]">{more}</td>
      <td className="w-[20%] text-slate text-[13px] text-right">weighed ____________</td>
    </tr>
  );
}
