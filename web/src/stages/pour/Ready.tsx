/** The last walk round the bench: tapped off one by one, kept on this device until the step is done. */
import { remember, remembered } from "../../api/memory";
import { useState } from "react";
import type { ScriptStep } from "../../domain/run";

const keyOf = (run: number, step: ScriptStep) => `cavatum-ready-${run}-${step.id}`;
const ticked = (run: number, step: ScriptStep) =>
  JSON.parse(remembered("session", keyOf(run, step)) ?? "[]") as number[];

/** How many of its checks nobody ticked. */
export function openChecks(step: ScriptStep, run: number): number {
  return (step.checks?.length ?? 0) - ticked(run, step).length;
}

export function Ready({ step, run }: { step: ScriptStep; run: number }) {
  const key = keyOf(run, step);
  const [there, setThere] = useState<number[]>(() => ticked(run, step));
  const tap = (index: number) => {
    const next = there.includes(index) ? there.filter((one) => one !== index) : [...there, index];
    remember("session", key, JSON.stringify(next));
    setThere(next);
  };
  const checks = step.checks ?? [];
  return (
    <>
      <p className="text-[19px] mt-3 font-semibold">
        {there.length === checks.length ? "All there." : `${checks.length - there.length} still to see to`}
      </p>
      <ul className="grid grid-cols-2 gap-x-6 max-sm:grid-cols-1" aria-label="What has to be there">
        {checks.map((words, index) => (
          <li key={words} className="border-b border-line">
            <button
              role="checkbox"
              aria-checked={there.includes(index)}
              className="min-h-[64px] w-full text-left grid grid-cols-[40px_1fr] items-center text-[18px]"
              onClick={() => tap(index)}
            >
              <span
                aria-hidden="true"
                className={`w-8 h-8 border-2 grid place-content-center ${there.includes(index) ? "bg-spruce text-on-spruce border-spruce" : "border-slate"}`}
              >
                {there.includes(index) ? "✓" : ""}
              </span>
              {words}
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}
