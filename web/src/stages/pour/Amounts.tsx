/** What to weigh, large. At the scale it is live; without a scale each part is typed as it came out, the other
 *  follows it, and the record keeps both. */
import { useState } from "react";
import { Link } from "react-router";
import { ratioOff, targetKg, type RunState, type ScriptStep } from "../../domain/run";
import { signedPercent } from "../../domain/format";
import { NumberPad } from "../mix/weigh/NumberPad";
import { bySteps, unitOf } from "./units";

export const RATIO_CARE = 0.02;

export function Amounts({
  step,
  state,
  pieceId,
  canScale,
  onWeighed,
}: {
  step: ScriptStep;
  state: RunState;
  pieceId: number | null;
  canScale: boolean;
  onWeighed: (part: "A" | "B", kg: number) => void;
}) {
  const [first, second] = step.parts ?? [];
  const [pad, setPad] = useState<"A" | "B" | null>(null);
  if (!first || !second) return null;
  const said = state.weighed[step.id] ?? {};
  const unit = unitOf(step);
  const shown = [first, second].map((one) => ({
    part: one.part,
    kg: said[one.part] ?? targetKg(step, state, one.part),
    typed: said[one.part] !== undefined,
  }));
  const off = ratioOff(step, state);
  return (
    <div className="mt-4">
      <dl className="flex flex-wrap gap-x-10 gap-y-2">
        {shown.map(({ part, kg, typed }) => (
          <div key={part}>
            <dt className="text-[19px] text-slate">
              part {part}
              {typed ? ", in" : ""}
            </dt>
            <dd className="text-[56px] max-sm:text-[44px] leading-none font-semibold tabular-nums">
              {bySteps(kg, step)}
              <span className="text-[22px] font-normal"> {unit}</span>
            </dd>
          </div>
        ))}
        <div>
          <dt className="text-[19px] text-slate">together</dt>
          <dd className="text-[56px] max-sm:text-[44px] leading-none tabular-nums text-slate">
            {bySteps(
              shown.reduce((sum, one) => sum + one.kg, 0),
              step,
            )}
            <span className="text-[22px] font-normal"> {unit}</span>
          </dd>
        </div>
      </dl>
      {shown.some((one) => one.typed) && off === null ? (
        <p className="text-[18px] mt-1">
          Part {shown.find((one) => !one.typed)!.part} follows the{" "}
          {bySteps(shown.find((one) => one.typed)!.kg, step)} {unit} that are in.
        </p>
      ) : null}
      {off !== null ? (
        <p className={`text-[18px] mt-1 ${Math.abs(off) > RATIO_CARE ? "text-rust font-semibold" : ""}`}>
          Ratio {signedPercent(off)}
          {off > RATIO_CARE
            ? `: weigh more of part ${first.part} in, until it is ${bySteps(shown[1]!.kg / second.per_other, step)} ${unit}.`
            : off < -RATIO_CARE
              ? `: weigh more of part ${second.part} in, until it is ${bySteps(shown[0]!.kg * second.per_other, step)} ${unit}.`
              : "."}
        </p>
      ) : null}
      {(step.doses ?? []).length ? <p className="text-[19px] mt-2">Then {step.doses!.join("; ")}.</p> : null}
      <div className="flex flex-wrap gap-4 mt-2">
        {canScale && pieceId && step.pour && step.batch ? (
          <Link className="big-quiet" to={`/pieces/${pieceId}/weigh/${step.pour}/${step.batch}`}>
            Weigh it at the scale
          </Link>
        ) : null}
        {shown.map(({ part }) => (
          <button key={part} className="big-quiet" onClick={() => setPad(part)}>
            Part {part} came out different
          </button>
        ))}
      </div>
      {pad ? (
        <NumberPad
          title={`How much of part ${pad} is in?`}
          plain={unit}
          onClose={() => setPad(null)}
          onTake={(value) => {
            if (value > 0) onWeighed(pad, unit === "oz wt" ? value * 0.028349523125 : value / 1000);
            setPad(null);
          }}
        />
      ) : null}
    </div>
  );
}
