/** A probe's log laid over the prediction, what refitting to it would change, and keeping that for this
 *  resin. */
import { changeSystem, layProbeOver } from "../../api/operations.generated";
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
const WIDE = 288;
const TALL = 150;

export function Probe({ stored, plan, voidId }: Pick<StageProps, "stored" | "plan" | "voidId">) {
  const layers = layersOf(plan, voidId);
  const [layer, setLayer] = useState(0);
  const [answer, setAnswer] = useState<Answer | null>(null);
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const shelf = useShelf();
  const { is_demo } = useShop();
  const anew = useEverythingAnew();
  if (!layers.some((one) => one.heat)) return null;
  const ask = async (body: object) => {
    setProblem("");
    setBusy(true);
    try {
      setAnswer(await layProbeOver(stored.id, { void_id: voidId, layer, ...body }));
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
    await changeSystem(system.id, { ...system, cure_fit: answer.fit });
    setAnswer(null);
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
          {answer.left_out.length ? (
            <p className="text-[12.5px] text-rust">Left out: {answer.left_out.join("; ")}.</p>
          ) : null}
          <p className="mt-2 flex gap-4">
            <button className="key" onClick={() => void keep()}>
              Use it for this resin
            </button>
            <button className="quiet" onClick={() => setAnswer(null)}>
              Never mind
            </button>
          </p>
          <p className="text-[12.5px] text-slate mt-1">
            Kept as a new version of the sheet; it can be set aside there.
          </p>
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
            <td>{difference(refit.before_k, units)}</td>
            <td>{difference(refit.after_k, units)}</td>
          </tr>
          <tr>
            <td>peak ({degrees(refit.peak_measured_c, units)} measured)</td>
            <td>{degrees(refit.peak_before_c, units)}</td>
            <td>{degrees(refit.peak_after_c, units)}</td>
          </tr>
          <tr>
            <td>speed of cure, against its class</td>
            <td>
              <span className="sr-only">as its class</span>
            </td>
            <td>× {refit.rate_factor.toFixed(2)}</td>
          </tr>
        </tbody>
      </table>
    </figure>
  );
}

function difference(kelvin: number, units: "metric" | "us"): string {
  return units === "us" ? `${(kelvin * 1.8).toFixed(1)} °F` : `${kelvin.toFixed(1)} °C`;
}
