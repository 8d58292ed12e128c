/** The colours of a batch: what of the clear mix goes into which cup, each colourant by weight or drops,
 *  how opaque it will be. */
import type { Plan } from "../../api/queries";
import { Fig } from "../../ui/Fig";
import type { Batch } from "./MixStage";

export function Colours({ batch, plan }: { batch: Batch; plan: Plan }) {
  const colours = batch.colours ?? [];
  const several = colours.length > 1;
  if (!several && !colours.some((one) => one.doses.length)) return null;
  return (
    <section aria-label="Colour" className="mt-2 text-[13px]">
      {several ? <p className="font-medium">One clear mix, stirred clear, then parted:</p> : null}
      {colours.map((one, index) => (
        <div key={index} className="mt-1">
          {several ? (
            <p className="flex justify-between border-b border-line">
              <span className="font-semibold">{one.colour || "clear"}</span>
              <Fig
                figure={one.clear}
                plan={plan}
                unitClass=""
                as={{ number: (one.clear.value * 1000).toFixed(1), unit: "g" }}
              />
            </p>
          ) : null}
          {one.doses.map((dose) => (
            <p key={dose.colourant_id} className="flex justify-between gap-2">
              <span>
                {dose.name}{" "}
                <span className="text-slate">{(100 * dose.share).toFixed(2).replace(/\.?0+$/, "")} %</span>
              </span>
              <span className="whitespace-nowrap">
                <Fig
                  figure={dose.mass}
                  plan={plan}
                  className="font-semibold"
                  unitClass=""
                  as={{ number: weighed(dose.mass.value), unit: "g" }}
                />
                {dose.drops ? <span className="text-slate"> ≈ {dose.drops} drops</span> : null}
              </span>
            </p>
          ))}
          {one.doses.some((dose) => dose.kind === "glitter") ? (
            <p className="text-slate">
              Glitter: rested as the pot clock says; or laid on the wet film at once, thickly, without a rest.
              Both are done.
            </p>
          ) : null}
          {one.through ? (
            <p className="text-slate">
              Lets <Fig figure={one.through} plan={plan} unitClass="" /> of the light through at this depth:{" "}
              {one.looks}.
            </p>
          ) : null}
        </div>
      ))}
      {colours.some((one) => one.doses.length) ? (
        <p className="text-slate">
          Stir clear first, then the colour in small steps: it cannot be taken out.
        </p>
      ) : null}
    </section>
  );
}

/** Colourants to the tenth of a gram that a bench scale shows; finer ones as they are. */
function weighed(kg: number): string {
  return String(Number((kg * 1000).toFixed(3)));
}
