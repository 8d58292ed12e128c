/** What to weigh, large. At the scale it is live; without a scale the second part follows the first as it
 *  really was. */
import { useState } from "react";
import { Link } from "react-router";
import type { ScriptStep } from "../../domain/run";
import { NumberPad } from "../mix/weigh/NumberPad";
import { grams } from "../mix/weigh/Weigh";

export function Amounts({
  step,
  pieceId,
  canScale,
}: {
  step: ScriptStep;
  pieceId: number | null;
  canScale: boolean;
}) {
  const [first, second] = step.parts ?? [];
  const [was, setWas] = useState<number | null>(null);
  const [pad, setPad] = useState(false);
  if (!first || !second) return null;
  const scaleStep = step.step_kg ?? 1e-4;
  const then = was === null ? second.target_kg : Math.round((was * second.per_other) / scaleStep) * scaleStep;
  return (
    <div className="mt-4">
      <dl className="flex flex-wrap gap-x-10 gap-y-2">
        {[
          [first.part, was ?? first.target_kg],
          [second.part, then],
        ].map(([part, kg]) => (
          <div key={part as string}>
            <dt className="text-[19px] text-slate">part {part}</dt>
            <dd className="text-[56px] max-sm:text-[44px] leading-none font-semibold tabular-nums">
              {grams(kg as number)}
              <span className="text-[22px] font-normal"> g</span>
            </dd>
          </div>
        ))}
        <div>
          <dt className="text-[19px] text-slate">together</dt>
          <dd className="text-[56px] max-sm:text-[44px] leading-none tabular-nums text-slate">
            {grams((was ?? first.target_kg) + then)}
            <span className="text-[22px] font-normal"> g</span>
          </dd>
        </div>
      </dl>
      {was !== null ? (
        <p className="text-[18px] mt-1">
          Part {second.part} follows the {grams(was)} g that are in.
        </p>
      ) : null}
      {(step.doses ?? []).length ? <p className="text-[19px] mt-2">Then {step.doses!.join("; ")}.</p> : null}
      <div className="flex flex-wrap gap-4 mt-2">
        {canScale && pieceId && step.pour && step.batch ? (
          <Link className="big-quiet" to={`/pieces/${pieceId}/weigh/${step.pour}/${step.batch}`}>
            Weigh it at the scale
          </Link>
        ) : null}
        <button className="big-quiet" onClick={() => setPad(true)}>
          Part {first.part} came out different
        </button>
      </div>
      {pad ? (
        <NumberPad
          title={`How much of part ${first.part} is in?`}
          plain="g"
          onClose={() => setPad(false)}
          onTake={(value) => {
            if (value > 0) setWas(value / 1000);
            setPad(false);
          }}
        />
      ) : null}
    </div>
  );
}
