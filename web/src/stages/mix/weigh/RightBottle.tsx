/** Is it the right bottle? A known volume of it on the scale tells by its density. */
import { keepFile, readLabel, testBottle } from "../../../api/operations.generated";
import { useState } from "react";
import { Refused, type Schemas } from "../../../api/client";
import { complaint } from "../../../ui/FileDrop";
import { QuantityField, type Reading } from "../../../ui/QuantityField";
import { useShop } from "../../../ui/session";
import { Shape } from "../../../ui/Verdicts";
import { grams } from "./Weigh";
import type { Weighing } from "./useWeighing";

export function RightBottle({
  weighing,
  step,
  onChoose,
  onClose,
}: {
  weighing: Weighing;
  step: Schemas["WeighStep"];
  onChoose: (bottleId: number, lot: string) => void;
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
      className="fixed inset-0 z-50 bg-paper grid [place-content:safe_center] overflow-auto p-6 gap-4 text-[18px]"
    >
      <p className="text-[26px] font-semibold">Is this part {step.key}?</p>
      <ItsLabel weighing={weighing} step={step} onChoose={onChoose} />
      <p className="max-w-[48ch]">
        Or pour some of it to a line of a measuring cup and weigh it. Its density tells the two parts apart: A{" "}
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
      {verdict ? <Said verdict={verdict} /> : null}
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

function Said({ verdict }: { verdict: Schemas["Verdict"] }) {
  return (
    <p className="grid grid-cols-[24px_1fr] gap-3 max-w-[60ch]">
      <Shape weight={verdict.weight} />
      <span>
        <b>{verdict.title}.</b> {verdict.text} <b className="font-semibold">{verdict.todo}</b>
      </span>
    </p>
  );
}

/** Its label by photo: which part, whose, which lot, until when. */
function ItsLabel({
  weighing,
  step,
  onChoose,
}: {
  weighing: Weighing;
  step: Schemas["WeighStep"];
  onChoose: (bottleId: number, lot: string) => void;
}) {
  const [answer, setAnswer] = useState<Schemas["LabelAnswer"] | null>(null);
  const [state, setState] = useState("");
  const look = async (file: File | undefined) => {
    if (!file) return;
    setAnswer(null);
    setState("Reading the label …");
    try {
      const kept = await keepFile(file, { name: file.name });
      setAnswer(await readLabel(weighing.id, { file: kept.sha256, step: step.key }));
      setState("");
    } catch (error) {
      setState(complaint(error));
    }
  };
  const { label, bottle_id, verdicts } = answer ?? {};
  return (
    <section aria-label="Its label" className="grid gap-3">
      <label className="big-quiet cursor-pointer justify-self-start grid place-content-center">
        Photograph its label
        <input
          type="file"
          accept="image/*"
          capture="environment"
          className="sr-only"
          onChange={(event) => {
            void look(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
      </label>
      {state ? <p role="status">{state}</p> : null}
      {(verdicts ?? []).map((one) => (
        <Said key={one.code} verdict={one} />
      ))}
      {label ? (
        <p className="text-slate max-w-[60ch]">
          Read on it: {label.part ? `part ${label.part.toUpperCase()}` : "no part"},{" "}
          {label.lot ? `lot ${label.lot}` : "no lot"}
          {label.best_before ? `, keeps until ${label.best_before}` : ""}
          {label.open_dates?.length
            ? `; ${label.open_dates.join(", ")} may be two days: look which is the month`
            : ""}
          .
        </p>
      ) : null}
      {typeof bottle_id === "number" && label ? (
        <button className="big-key justify-self-start" onClick={() => onChoose(bottle_id, label.lot ?? "")}>
          Pour from this bottle, lot {label.lot}
        </button>
      ) : null}
    </section>
  );
}
