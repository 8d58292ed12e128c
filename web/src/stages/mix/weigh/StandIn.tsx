/** The hands of the stand-in scale: for trying it all out without resin. Never shown with a real one. */
import { commandScale } from "../../../api/operations.generated";
import { useState } from "react";

export function StandIn({ remainingKg }: { remainingKg: number }) {
  const [problem, setProblem] = useState("");
  const left = Math.max(Math.round(remainingKg * 10_000) / 10, 0);
  const say = (command: string) => () =>
    void commandScale({ command })
      .then(() => setProblem(""))
      .catch((error: Error) => setProblem(error.message));
  const keys: [string, string][] = [
    ["set a cup down", "CUP 180"],
    [`pour what is missing`, `POUR ${Math.min(left, 9999)}`],
    ["pour 100 g", "POUR 100"],
    ["pour 10 g", "POUR 10"],
    ["add 1 g", "ADD 1"],
    ["spoon out 2 g", "SPOON 2"],
    ["tare", "tare"],
    ["lift the cup", "LIFT"],
    ["freeze 40 s", "FREEZE 40"],
    ["pull the plug 8 s", "AWAY 8"],
    ["ounces", "UNIT oz"],
    ["grams", "UNIT g"],
  ];
  return (
    <details className="px-6 max-sm:px-3 pb-4 text-[16px]">
      <summary className="min-h-[64px] grid content-center cursor-pointer text-slate">
        Practice scale: use these buttons
      </summary>
      <div className="flex flex-wrap gap-3">
        {keys.map(([words, command]) => (
          <button
            key={words}
            className="min-h-[64px] px-4 border-2 border-slate rounded-[3px]"
            onClick={say(command)}
          >
            {words}
          </button>
        ))}
      </div>
      {problem ? (
        <p role="alert" className="text-rust mt-2">
          {problem}
        </p>
      ) : null}
    </details>
  );
}
