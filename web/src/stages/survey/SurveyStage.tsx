/** Survey: is the piece fit to pour on, and what has to be done first? */
import type { Piece } from "../../api/queries";
import { text } from "../../domain/format";
import { Fig } from "../../ui/Fig";
import { QuantityField } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { Verdicts } from "../../ui/Verdicts";
import { ChoiceField } from "../measure/ShapeFields";
import type { StageProps } from "../Workspace";
import { DefectList } from "./DefectList";
import { EMPTY_SURVEY, FINISHES, FOUND, GRAINS, MATERIALS, type Survey } from "./survey";

export function SurveyStage({ stored, plan, edits }: StageProps) {
  const survey = stored.piece.survey ?? EMPTY_SURVEY;
  const { units } = useUnits();
  const set = (what: string, part: Partial<Survey>) => edits.edit(what, (now: Piece) => ({ ...now, survey: { ...(now.survey ?? EMPTY_SURVEY), ...part } }));
  const tick = (code: string, on: boolean) => set(on ? "done" : "not done", { done: on ? [...(survey.done ?? []), code] : (survey.done ?? []).filter((one) => one !== code) });
  const report = plan.survey;
  const kept = survey.kept_in;
  return (
    <>
      <h2 className="mt-2">Is it fit to pour on?</h2>
      <div className="grid grid-cols-2 gap-2.5 mt-1">
        <ChoiceField choice={{ key: "material", label: "made of", options: MATERIALS.map((one) => [one, one]) }} value={survey.material ?? "not said"} onChoose={(material) => void set("material", { material: material as Survey["material"] })} />
        <ChoiceField choice={{ key: "finish", label: "surface", options: FINISHES.map((one) => [one, one]) }} value={survey.finish ?? "not said"} onChoose={(finish) => void set("surface", { finish: finish as Survey["finish"] })} />
        <ChoiceField choice={{ key: "survey-grain", label: "grain", options: GRAINS }} value={survey.grain ?? "not said"} onChoose={(grain) => void set("grain", { grain: grain as Survey["grain"] })} />
        <ChoiceField choice={{ key: "flat", label: "flat along and across", options: [["", "not said"], ["yes", "yes"], ["no", "no"]] }} value={survey.is_flat === null || survey.is_flat === undefined ? "" : survey.is_flat ? "yes" : "no"} onChoose={(flat) => void set("flatness", { is_flat: flat === "" ? null : flat === "yes" })} />
        <QuantityField label="length" kind="length" optional reading={survey.length_m} pointer="/survey/length_m" onCommit={(length_m) => set("length", { length_m })} />
        <QuantityField label="width" kind="length" optional reading={survey.width_m} pointer="/survey/width_m" onCommit={(width_m) => set("width", { width_m })} />
        <QuantityField label="thickness" kind="length" optional reading={survey.thickness_m} pointer="/survey/thickness_m" onCommit={(thickness_m) => set("thickness", { thickness_m })} />
        <QuantityField label="moisture, measured" kind="fraction" optional reading={survey.moisture} pointer="/survey/moisture" onCommit={(moisture) => set("moisture", { moisture })} />
        <QuantityField label="surface temperature" kind="temperature" optional reading={survey.surface_c} pointer="/survey/surface_c" help="by infrared, if you have it" onCommit={(surface_c) => set("surface temperature", { surface_c })} />
      </div>
      <details className="mt-1" open={!!kept}>
        <summary className="quiet">Where it has been kept</summary>
        <div className="grid grid-cols-3 gap-2">
          <QuantityField label="air" kind="temperature" optional reading={kept?.temperature_c} pointer="/survey/kept_in/temperature_c" onCommit={(reading) => reading ? set("kept at", { kept_in: { humidity: { value: 0.5, as_typed: "50 %" }, weeks: 8, ...kept, temperature_c: reading } }) : set("not kept", { kept_in: null })} />
          <QuantityField label="humidity" kind="fraction" optional reading={kept?.humidity} pointer="/survey/kept_in/humidity" onCommit={(reading) => reading ? set("kept at", { kept_in: { temperature_c: { value: 20, as_typed: "20 C" }, weeks: 8, ...kept, humidity: reading } }) : set("not kept", { kept_in: null })} />
          <QuantityField label="weeks" kind="count" optional reading={kept ? { value: kept.weeks, as_typed: String(kept.weeks) } : null} onCommit={(reading) => kept && reading && reading.value > 0 ? set("weeks kept", { kept_in: { ...kept, weeks: reading.value } }) : undefined} />
        </div>
      </details>
      {report ? (
        <p className="text-[13px] mt-1">Room: dew point <Fig figure={report.dew_point} plan={plan} />, surface <Fig figure={report.margin} plan={plan} as={{ number: report.margin.value.toFixed(1), unit: "K" }} /> above it.
          {report.expected_moisture ? <> Wood kept there rests at <Fig figure={report.expected_moisture} plan={plan} />.</> : null}</p>
      ) : null}
      <fieldset className="mt-3">
        <legend className="text-[13px] font-semibold">Found on it</legend>
        <div className="grid grid-cols-2">
          {FOUND.map((one) => <label key={one} className="flex gap-2 items-center text-[13px] min-h-7"><input type="checkbox" checked={(survey.found ?? []).includes(one)} onChange={(event) => void set("found on it", { found: event.target.checked ? [...(survey.found ?? []), one] : (survey.found ?? []).filter((other) => other !== one) })} />{one}</label>)}
        </div>
      </fieldset>
      <DefectList stored={stored} survey={survey} plan={plan} edits={edits} />
      <Verdicts verdicts={plan.verdicts.filter((one) => one.stage === "survey")} />
      {report && stored.piece.survey ? (
        <>
          <section className="mt-5" aria-label="Before mixing">
            <h2>Before mixing{report.lead_time && report.lead_time.value > 0 ? <>, at least <Fig figure={report.lead_time} plan={plan} /></> : ""}</h2>
            <ol className="rule mt-1">
              {report.steps.map((step) => (
                <li key={step.code} className="py-1.5 text-[13.5px]">
                  <label className="flex gap-2.5 items-start"><input type="checkbox" className="mt-1" checked={step.is_done ?? false} onChange={(event) => void tick(step.code, event.target.checked)} />
                    <span className={step.is_done ? "text-slate line-through" : ""}><b className="font-semibold">{step.title}.</b> {step.text} <span className="text-slate">{step.why}</span>
                      {step.wait_from_s > 0 ? <span className="whitespace-nowrap font-medium"> Wait {text(step.wait_from_s, "duration", units)}{step.wait_to_s && step.wait_to_s !== step.wait_from_s ? ` to ${text(step.wait_to_s, "duration", units)}` : step.wait_to_s ? "" : " or longer"}.</span> : null}</span></label>
                </li>
              ))}
            </ol>
          </section>
          <section className="mt-5" aria-label="Ready to mix">
            <h2>Ready to mix</h2>
            <ul className="mt-1">
              {report.ready.map((item) => <li key={item.code}><label className="flex gap-2.5 items-start text-[13.5px] min-h-7"><input type="checkbox" className="mt-1" checked={item.is_done} onChange={(event) => void tick(`ready-${item.code}`, event.target.checked)} />{item.text}</label></li>)}
            </ul>
            <div className="grid grid-cols-2 gap-2 mt-2">
              <ChoiceField choice={{ key: "air", label: "air over the piece", options: [["still air", "still, against dust"], ["fan", "fan, against fumes"]] }} value={survey.air_school ?? "still air"} onChoose={(air) => void set("air", { air_school: air as Survey["air_school"] })} />
              <ChoiceField choice={{ key: "underside", label: "drips below", options: [["tape", "tape the edge"], ["scrape", "scrape while they run"], ["sand later", "sand them later"]] }} value={survey.underside_school ?? "tape"} onChoose={(under) => void set("underside", { underside_school: under as Survey["underside_school"] })} />
            </div>
            <p className="mt-2 no-print"><a className="quiet" href={`/pieces/${stored.id}/ready`}>Print the list</a></p>
          </section>
        </>
      ) : null}
    </>
  );
}
