/** Is it the right bottle? A known volume of it on the scale tells by its density. */
import { testBottle } from "../../../api/operations.generated";
import { useState } from "react";
import { Refused, type Schemas } from "../../../api/client";
import { QuantityField, type Reading } from "../../../ui/QuantityField";
import { useShop } from "../../../ui/session";
import { Shape } from "../../../ui/Verdicts";
import { grams } from "./Weigh";
import type { Weighing } from "./useWeighing";

export function RightBottle({
  weighing,
  step,
  onClose,
}: {
  weighing: Weighing;
  step: Schemas["WeighStep"];
  onClose: () => void;
}) {
  const { workshop } = useShop();
  const onScale =
    weighing.live.connected && (weighing.live.net_kg ?? 0) > 0.001 ? weighing.live.net_kg! : null;
  const [volume, setVolume] = useState<Reading | null>(null);
  const [mass, setMass] = useState<Reading | null>(null);
  const [line, setLine] = useState<Reading | null>((workshop.cup_line_m3 as Reading | null) ?? null);
  const [verdict, setVerdict] = useState<Schemas["Verdict"] | null>(null);
  const [problem, setProblem] = useState("");
  const weighed: Reading | null = mass ?? (onScale ? { value: onScale, origin: "measured" } : null);
  const ask = async () => {
    if (!volume || !weighed || !line) return;
    try {
      const answer = await testBottle(weighing.id, {
        step: step.key,
        volume,
        mass: weighed,
        line,
      });
      setVerdict(answer.verdict);
      setProblem("");
    } catch (error) {
      setProblem(error instanceof Refused ? error.message : String(error));
    }
  };
  return (
    <div
      role="dialog"
      aria-label="Is it the right bottle?"
      className="fixed inset-0 z-50 bg-paper grid place-content-center p-6 gap-4 text-[18px]"
    >
      <p className="text-[26px] font-semibold">Is this part {step.key}?</p>
      <p className="max-w-[48ch]">
        Pour some of it to a line of a measuring cup and weigh it. Its density tells the two parts apart: A{" "}
        {(weighing.task.density_a / 1000).toFixed(3)}, B {(weighing.task.density_b / 1000).toFixed(3)} g/mL by
        the sheet.
      </p>
      <div className="grid grid-cols-3 max-sm:grid-cols-1 gap-4 [&_.box]:min-h-[64px] [&_.box]:text-[20px]">
        <QuantityField label="volume at the line" kind="volume" reading={volume} onCommit={setVolume} />
        <QuantityField
          label="weighs"
          kind="mass"
          reading={mass}
          help={onScale && !mass ? `on the scale now: ${grams(onScale)} g` : undefined}
          optional
          onCommit={setMass}
        />
        <QuantityField label="lines are apart by" kind="volume" reading={line} onCommit={setLine} />
      </div>
      {problem ? (
        <p role="alert" className="text-rust">
          {problem}
        </p>
      ) : null}
      {verdict ? (
        <p className="grid grid-cols-[24px_1fr] gap-3 max-w-[60ch]">
          <Shape weight={verdict.weight} />
          <span>
            <b>{verdict.title}.</b> {verdict.text} <b className="font-semibold">{verdict.todo}</b>
          </span>
        </p>
      ) : null}
      <div className="flex justify-between gap-8">
        <button className="big-quiet" onClick={onClose}>
          Back to the scale
        </button>
        <button className="big-key" disabled={!volume || !weighed || !line} onClick={() => void ask()}>
          Which part is it?
        </button>
      </div>
    </div>
  );
}
