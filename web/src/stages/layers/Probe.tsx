/** A probe's log laid over the prediction, what it teaches of the resin and of the workshop's air, and keeping
 *  either or both. */
import { changeSystem, layProbeOver, saveWorkshop } from "../../api/operations.generated";
import { useRef, useState } from "react";
import { scaleLinear } from "d3-scale";
import type { Schemas } from "../../api/client";
import { useEverythingAnew, useShelf } from "../../api/queries";
import { layersOf } from "../../domain/boundaries";
import { degrees, text } from "../../domain/format";
import { ticks } from "../../domain/heat";
import { useShop, useUnits } from "../../ui/session";
import type { StageProps } from "../props";

type Answer = Schemas["ProbeAnswer"];
type Teaches = Schemas["Refit"]["teaches"];
type Log = { text: string } | { stand_in: true };
const TEACHES: [Teaches, string][] = [
  ["both", "resin and workshop"],
  ["resin", "this resin alone"],
  ["workshop", "this workshop alone"],
];
const KEPT: Record<Teaches, string> = {
  both: "Kept as a new version of the sheet and in the workshop's settings; either can be set aside there.",
  resin: "Kept as a new version of the sheet; it can be set aside there.",
  workshop: "Kept in the workshop's settings, for every resin; it can be set aside there.",
};
const FACTORS: Record<Schemas["Taught"]["what"], string> = {
  rate: "speed of cure",
  heat: "heat of reaction",
  top: "heat lost at the top",
  side: "heat lost at the sides",
};
const WIDE = 288;
const TALL = 150;

export function Probe({ stored, plan, voidId }: Pick<StageProps, "stored" | "plan" | "voidId">) {
  const layers = layersOf(plan, voidId);
  const [layer, setLayer] = useState(0);
  const [answer, setAnswer] = useState<Answer | null>(null);
  const [log, setLog] = useState<Log | null>(null);
  const [teaches, setTeaches] = useState<Teaches>("both");
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const shelf = useShelf();
  const { is_demo, workshop, revision } = useShop();
  const anew = useEverythingAnew();
  if (!layers.some((one) => one.heat)) return null;
  const ask = async (chosen: Log, wanted: Teaches = teaches) => {
    setProblem("");
    setBusy(true);
    setLog(chosen);
    try {
      setAnswer(await layProbeOver(stored.id, { void_id: voidId, layer, teaches: wanted, ...chosen }));
    } catch (error) {
      setAnswer(null);
      setProblem((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  const system = shelf.data?.find((sheet) => sheet.system.id === answer?.system_id)?.system;
  const keep = async () => {
    if (!system || !answer) return;
    try {
      if (answer.air) await saveWorkshop({ ...workshop, learned_air: answer.air }, { made_on: revision });
      if (answer.fit) await changeSystem(system.id, { ...system, cure_fit: answer.fit });
      setAnswer(null);
    } catch (error) {
      setProblem((error as Error).message);
    }
    await anew();
  };
  return (
    <details className="mt-4">
      <summary className="quiet">Lay a measured curve over it</summary>
      <p className="text-[12.5px] text-slate">
        A probe in the middle of a layer, logged as CSV: a time and a temperature in each row, the first row
        when it was poured.
      </p>
      <div className="mt-2 flex flex-wrap gap-3 items-center">
        {layers.length > 1 ? (
          <select
            aria-label="Layer the probe was in"
            className="box w-auto!"
            value={layer}
            onChange={(event) => {
              setLayer(Number(event.target.value));
              setAnswer(null);
            }}
          >
            {layers.map((one, index) => (
              <option key={index} value={index}>
                layer {one.number}
              </option>
            ))}
          </select>
        ) : null}
        <input
          ref={file}
          type="file"
          accept=".csv,text/csv,text/plain"
          className="sr-only"
          aria-label="Probe log"
          onChange={async (event) => {
            const chosen = event.target.files?.[0];
            if (chosen) await ask({ text: await chosen.text() });
            event.target.value = "";
          }}
        />
        <button className="quiet" disabled={busy} onClick={() => file.current?.click()}>
          Choose a log
        </button>
        {is_demo ? (
          <button className="quiet" disabled={busy} onClick={() => void ask({ stand_in: true })}>
            Take the stand-in probe's
          </button>
        ) : null}
      </div>
      {problem ? (
        <p role="alert" className="text-rust mt-1">
          {problem}
        </p>
      ) : null}
      {answer ? (
        <>
          <Curves answer={answer} />
          <fieldset className="mt-2 text-[13px]" disabled={busy}>
            <legend className="text-slate">What it is to teach</legend>
            {TEACHES.map(([value, label]) => (
              <label key={value} className="block py-1 max-sm:py-2">
                <input
                  type="radio"
                  name="teaches"
                  checked={teaches === value}
                  onChange={() => {
                    setTeaches(value);
                    if (log) void ask(log, value);
                  }}
                />{" "}
                {label}
              </label>
            ))}
          </fieldset>
          {answer.left_out.length ? (
            <p className="text-[12.5px] text-rust">Left out: {answer.left_out.join("; ")}.</p>
          ) : null}
          <p className="mt-2 flex gap-4">
            <button className="key" onClick={() => void keep()}>
              {teaches === "workshop"
                ? "Use it for this workshop"
                : teaches === "resin"
                  ? "Use it for this resin"
                  : "Use it for both"}
            </button>
            <button className="quiet" onClick={() => setAnswer(null)}>
              Never mind
            </button>
          </p>
          <p className="text-[12.5px] text-slate mt-1">{KEPT[teaches]}</p>
        </>
      ) : null}
    </details>
  );
}

function Curves({ answer }: { answer: Answer }) {
  const { units } = useUnits();
  const { refit } = answer;
  const measured = refit.measured;
  const all = [...measured, ...refit.predicted, ...refit.refitted];
  const x = scaleLinear()
    .domain([0, Math.max(...measured.map((one) => one[0]))])
    .range([30, WIDE]);
  const y = scaleLinear()
    .domain([Math.min(...all.map((one) => one[1])) - 1, Math.max(...all.map((one) => one[1])) + 2])
    .range([TALL - 22, 10]);
  const line = (points: [number, number][]) =>
    `M${points.map(([at, celsius]) => `${x(at).toFixed(1)} ${y(celsius).toFixed(1)}`).join("L")}`;
  return (
    <figure className="mt-2">
      <svg
        width={WIDE + 6}
        height={TALL}
        className="block max-w-full text-[12px]"
        role="img"
        aria-label={`Measured to ${degrees(refit.peak_measured_c, units)}, predicted ${degrees(refit.peak_before_c, units)}, refitted ${degrees(refit.peak_after_c, units)}`}
      >
        {ticks(y.domain()[0]!, y.domain()[1]!, 4).map((tick) => (
          <g key={tick}>
            <path d={`M30 ${y(tick)}H${WIDE}`} className="stroke-line" />
            <text x="26" y={y(tick) + 4} textAnchor="end" className="fill-slate!">
              {units === "us" ? Math.round(tick * 1.8 + 32) : tick}°
            </text>
          </g>
        ))}
        {measured.map(([at, celsius]) => (
          <circle key={at} cx={x(at)} cy={y(celsius)} r="1.3" className="fill-ink" />
        ))}
        <path
          d={line(refit.predicted)}
          fill="none"
          className="stroke-slate"
          strokeDasharray="5 3"
          strokeWidth="1.4"
        />
        <path d={line(refit.refitted)} fill="none" className="stroke-rust" strokeWidth="2" />
        {[0, 0.5, 1].map((share) => (
          <text
            key={share}
            x={x(x.domain()[1]! * share)}
            y={TALL - 5}
            textAnchor={share === 1 ? "end" : share ? "middle" : "start"}
            className="fill-slate!"
          >
            {text(x.domain()[1]! * share, "duration", units)}
          </text>
        ))}
      </svg>
      <figcaption className="text-[12.5px]">Dots measured, dashes predicted, line refitted.</figcaption>
      <table className="plain mt-1">
        <thead>
          <tr>
            <th>
              <span className="sr-only">what</span>
            </th>
            <th>before</th>
            <th>after</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <td>off by, on average</td>
            <td>{text(refit.before_k, "temperature_difference", units)}</td>
            <td>{text(refit.after_k, "temperature_difference", units)}</td>
          </tr>
          <tr>
            <td>peak ({degrees(refit.peak_measured_c, units)} measured)</td>
            <td>{degrees(refit.peak_before_c, units)}</td>
            <td>{degrees(refit.peak_after_c, units)}</td>
          </tr>
          {refit.taught.map((one) => (
            <tr key={one.what}>
              <td>
                {FACTORS[one.what]}
                {one.is_told ? null : (
                  <span className="block text-[12.5px] text-slate">this curve hardly tells it</span>
                )}
              </td>
              <td>× 1</td>
              <td className="whitespace-nowrap">
                × {one.times.toFixed(2)}
                <span className="block text-[12.5px] text-slate">
                  {one.low.toFixed(2)} to {one.high.toFixed(2)}
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </figure>
  );
}
