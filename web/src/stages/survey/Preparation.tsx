/** What has to be done before mixing, in order with its waits, and the last walk round the bench. Ticked as
 *  it is done. */
import type { Present } from "../../api/client";
import type { Piece, Plan, Stored } from "../../api/queries";
import { text } from "../../domain/format";
import { Fig } from "../../ui/Fig";
import { useUnits } from "../../ui/session";
import { ChoiceField } from "../measure/ShapeFields";
import type { Edits } from "../usePieceEdits";
import { EMPTY_SURVEY, type Survey } from "./survey";
import { Check } from "../../ui/Check";

export function Preparation({ stored, plan, edits }: { stored: Stored; plan: Plan; edits: Edits }) {
  const { units } = useUnits();
  const survey = stored.piece.survey;
  const report = plan.survey;
  if (!report || !survey) return null;
  const set = (what: string, part: Partial<Survey>) =>
    edits.edit(what, (now: Piece) => ({ ...now, survey: { ...(now.survey ?? EMPTY_SURVEY), ...part } }));
  const tick = (code: string, on: boolean) =>
    set(on ? "done" : "not done", {
      done: on ? [...(survey.done ?? []), code] : (survey.done ?? []).filter((one) => one !== code),
    });
  return (
    <div className="grid grid-cols-2 gap-x-8 max-xl:grid-cols-1 mt-3 border-t border-ink">
      <section className="mt-3" aria-label="Before mixing">
        <h2>
          Before mixing
          {report.lead_time && report.lead_time.value > 0 ? (
            <>
              , at least <Fig figure={report.lead_time} plan={plan} />
            </>
          ) : (
            ""
          )}
        </h2>
        <ol className="rule mt-1">
          {report.steps.map((step) => (
            <li key={step.code} className="py-1.5 text-[13.5px]">
              <Check
                className="items-start"
                checked={step.is_done ?? false}
                onChange={(on) => tick(step.code, on)}
              >
                <span className={step.is_done ? "text-slate line-through" : ""}>
                  <b className="font-semibold">{step.title}.</b> {step.text}{" "}
                  <span className="text-slate">{step.why}</span>
                  {step.wait_from_s > 0 ? (
                    <span className="whitespace-nowrap font-medium">
                      {" "}
                      Wait {text(step.wait_from_s, "duration", units)}
                      {step.wait_to_s && step.wait_to_s !== step.wait_from_s
                        ? ` to ${text(step.wait_to_s, "duration", units)}`
                        : step.wait_to_s
                          ? ""
                          : " or longer"}
                      .
                    </span>
                  ) : null}
                </span>
              </Check>
            </li>
          ))}
        </ol>
      </section>
      <section className="mt-3" aria-label="Ready to mix">
        <h2>Ready to mix</h2>
        <ul className="mt-1">
          {report.ready.map((item) => (
            <li key={item.code}>
              <Check
                className="items-start"
                checked={item.is_done}
                onChange={(on) => tick(`ready-${item.code}`, on)}
              >
                {item.text}
              </Check>
            </li>
          ))}
        </ul>
        <div className="grid grid-cols-2 gap-2 mt-2">
          <ChoiceField
            choice={{
              key: "air",
              label: "air over the piece",
              options: [
                ["still air", "still, against dust"],
                ["fan", "fan, against fumes"],
              ],
            }}
            value={survey.air_school ?? "still air"}
            onChoose={(air) => void set("air", { air_school: air as Present<Survey["air_school"]> })}
          />
          <ChoiceField
            choice={{
              key: "underside",
              label: "drips below",
              options: [
                ["tape", "tape the edge"],
                ["scrape", "scrape while they run"],
                ["sand later", "sand them later"],
              ],
            }}
            value={survey.underside_school ?? "tape"}
            onChoose={(under) =>
              void set("underside", { underside_school: under as Present<Survey["underside_school"]> })
            }
          />
        </div>
        <p className="mt-2 no-print">
          <a className="quiet" href={`/pieces/${stored.id}/ready`}>
            Print the list
          </a>
        </p>
      </section>
    </div>
  );
}
