/** Survey: is the piece fit to pour on, and what has to be done first? */
import type { Present } from "../../api/client";
import type { Piece } from "../../api/queries";
import { Fig } from "../../ui/Fig";
import { QuantityField } from "../../ui/QuantityField";
import { Verdicts } from "../../ui/Verdicts";
import { ChoiceField } from "../measure/ShapeFields";
import { Spread } from "../Spread";
import { SurveyDrawing } from "./SurveyDrawing";
import type { StageProps } from "../props";
import { AcceptRoom } from "./AcceptRoom";
import { DefectList } from "./DefectList";
import { EMPTY_SURVEY, FINISHES, FOUND, GRAINS, MATERIALS, type Survey } from "./survey";
import { Check } from "../../ui/Check";

export function SurveyStage({ stored, plan, edits }: StageProps) {
  const survey = stored.piece.survey ?? EMPTY_SURVEY;
  const set = (what: string, part: Partial<Survey>) =>
    edits.edit(what, (now: Piece) => ({ ...now, survey: { ...(now.survey ?? EMPTY_SURVEY), ...part } }));
  const report = plan.survey;
  const kept = survey.kept_in;
  return (
    <Spread
      question="Is it fit to pour on?"
      strip="none"
      side={
        <>
          <div className="grid grid-cols-2 gap-2.5 mt-1">
            <ChoiceField
              choice={{ key: "material", label: "made of", options: MATERIALS.map((one) => [one, one]) }}
              value={survey.material ?? "not said"}
              onChoose={(material) =>
                void set("material", { material: material as Present<Survey["material"]> })
              }
            />
            <ChoiceField
              choice={{ key: "finish", label: "surface", options: FINISHES.map((one) => [one, one]) }}
              value={survey.finish ?? "not said"}
              onChoose={(finish) => void set("surface", { finish: finish as Present<Survey["finish"]> })}
            />
            {survey.finish === "fresh acrylic paint" ? (
              <label className="block text-[13px] text-slate">
                painted on
                <input
                  type="date"
                  className="box"
                  value={survey.painted_on ?? ""}
                  onChange={(event) => {
                    const painted_on = event.target.value || null;
                    void set("painted on", { painted_on });
                  }}
                />
              </label>
            ) : null}
            <ChoiceField
              choice={{ key: "survey-grain", label: "grain", options: GRAINS }}
              value={survey.grain ?? "not said"}
              onChoose={(grain) => void set("grain", { grain: grain as Present<Survey["grain"]> })}
            />
            <ChoiceField
              choice={{
                key: "flat",
                label: "flat along and across",
                options: [
                  ["", "not said"],
                  ["yes", "yes"],
                  ["no", "no"],
                ],
              }}
              value={
                survey.is_flat === null || survey.is_flat === undefined ? "" : survey.is_flat ? "yes" : "no"
              }
              onChoose={(flat) => void set("flatness", { is_flat: flat === "" ? null : flat === "yes" })}
            />
            <QuantityField
              label="length"
              kind="length"
              optional
              reading={survey.length_m}
              pointer="/survey/length_m"
              onCommit={(length_m) => set("length", { length_m })}
            />
            <QuantityField
              label="width"
              kind="length"
              optional
              reading={survey.width_m}
              pointer="/survey/width_m"
              onCommit={(width_m) => set("width", { width_m })}
            />
            <QuantityField
              label="thickness"
              kind="length"
              optional
              reading={survey.thickness_m}
              pointer="/survey/thickness_m"
              onCommit={(thickness_m) => set("thickness", { thickness_m })}
            />
            <QuantityField
              label="moisture, measured"
              kind="fraction"
              optional
              reading={survey.moisture}
              pointer="/survey/moisture"
              onCommit={(moisture) => set("moisture", { moisture })}
            />
            <QuantityField
              label="surface temperature"
              kind="temperature"
              optional
              reading={survey.surface_c}
              pointer="/survey/surface_c"
              help="by infrared, if you have it"
              onCommit={(surface_c) => set("surface temperature", { surface_c })}
            />
          </div>
          <details className="mt-1" open={!!kept}>
            <summary className="quiet">Where it has been kept</summary>
            <div className="grid grid-cols-3 gap-2">
              <QuantityField
                label="air"
                kind="temperature"
                optional
                reading={kept?.temperature_c}
                pointer="/survey/kept_in/temperature_c"
                onCommit={(reading) =>
                  reading
                    ? set("kept at", {
                        kept_in: {
                          humidity: { value: 0.5, as_typed: "50 %", origin: "typical" },
                          weeks: null,
                          ...kept,
                          temperature_c: reading,
                        },
                      })
                    : set("not kept", { kept_in: null })
                }
              />
              <QuantityField
                label="humidity"
                kind="fraction"
                optional
                reading={kept?.humidity}
                pointer="/survey/kept_in/humidity"
                onCommit={(reading) =>
                  reading
                    ? set("kept at", {
                        kept_in: {
                          temperature_c: { value: 20, as_typed: "20 C", origin: "typical" },
                          weeks: null,
                          ...kept,
                          humidity: reading,
                        },
                      })
                    : set("not kept", { kept_in: null })
                }
              />
              <QuantityField
                label="weeks"
                kind="count"
                optional
                reading={kept?.weeks ? { value: kept.weeks, as_typed: String(kept.weeks) } : null}
                onCommit={(reading) =>
                  kept
                    ? set("weeks kept", {
                        kept_in: { ...kept, weeks: reading && reading.value > 0 ? reading.value : null },
                      })
                    : undefined
                }
              />
            </div>
          </details>
          {report ? (
            <p className="text-[13px] mt-1">
              Room: dew point <Fig figure={report.dew_point} plan={plan} />, surface{" "}
              <Fig figure={report.margin} plan={plan} /> above it.
              {report.expected_moisture ? (
                <>
                  {" "}
                  Wood kept there rests at <Fig figure={report.expected_moisture} plan={plan} />.
                </>
              ) : null}
            </p>
          ) : null}
          {(report?.to_accept ?? []).map((one) => (
            <AcceptRoom
              key={one.what}
              room={one}
              onAccept={(words) =>
                void edits.edit("room taken as it is", (now: Piece) => ({
                  ...now,
                  accepted: [
                    ...(now.accepted ?? []).filter((other) => other.what !== one.what),
                    { what: one.what, value: one.value, words },
                  ],
                }))
              }
            />
          ))}
          <fieldset className="mt-3">
            <legend className="text-[13px] font-semibold">Found on it</legend>
            <div className="grid grid-cols-2">
              {FOUND.map((one) => (
                <Check
                  key={one}
                  checked={(survey.found ?? []).includes(one)}
                  onChange={(on) =>
                    set("found on it", {
                      found: on
                        ? [...(survey.found ?? []), one]
                        : (survey.found ?? []).filter((other) => other !== one),
                    })
                  }
                >
                  {one}
                </Check>
              ))}
            </div>
          </fieldset>
          <DefectList stored={stored} survey={survey} plan={plan} edits={edits} />
          <Verdicts verdicts={plan.verdicts.filter((one) => one.stage === "survey")} />
        </>
      }
    >
      <SurveyDrawing stored={stored} plan={plan} edits={edits} />
    </Spread>
  );
}
