/** What was read over what was predicted, pour by pour; and what that means for the windows to come. */
import { readRunHeat } from "../../api/operations.generated";
import { useQuery } from "@tanstack/react-query";
import { scaleLinear } from "d3-scale";
import type { Schemas } from "../../api/client";
import { text } from "../../domain/format";
import { hourTicks } from "../../domain/time";
import { useWidth } from "../../drawing/useWidth";
import { useUnits } from "../../ui/session";

const HEIGHT = 150;

export function useRunHeat(runId: number | null) {
  return useQuery({
    queryKey: ["run-heat", runId],
    queryFn: () => readRunHeat(runId!),
    enabled: runId !== null,
    refetchInterval: 30_000,
  });
}

/** wide: as broad as its place, else as a tray. */
export function MeasuredCurves({ runId, wide = false }: { runId: number; wide?: boolean }) {
  const found = useRunHeat(runId);
  const poured = (found.data?.pours ?? []).filter((one) => one.poured_at);
  if (!poured.length) return null;
  return (
    <section className="mt-5">
      <h2>Measured over predicted</h2>
      {poured.map((one) => (
        <Curve key={one.predicted.pour} one={one} wide={wide} />
      ))}
    </section>
  );
}

function Curve({ one, wide }: { one: Schemas["MeasuredCurve"]; wide: boolean }) {
  const { units } = useUnits();
  const [box, there] = useWidth<HTMLElement>();
  const WIDTH = wide ? Math.max(there, 240) : 292;
  const predicted = one.predicted.curve;
  const read = [...one.probe, ...one.surface];
  const end = Math.max(...read.map(([at]) => at * 1.25), Math.min(predicted.at(-1)?.[0] ?? 3600, 48 * 3600));
  const shown = predicted.filter(([at]) => at <= end);
  const values = [...shown, ...read].map(([, celsius]) => celsius);
  const x = scaleLinear()
    .domain([0, end])
    .range([34, WIDTH - 4]);
  const y = scaleLinear()
    .domain([Math.min(...values) - 1, Math.max(...values) + 2])
    .range([HEIGHT - 20, 8]);
  return (
    <figure className="mt-2" ref={box}>
      <svg
        width={WIDTH}
        height={HEIGHT}
        className="block text-[12px]"
        role="img"
        aria-label={`${one.predicted.called}: ${read.length} readings over the predicted curve`}
      >
        {y.ticks(4).map((tick) => (
          <g key={tick}>
            <path d={`M34 ${y(tick)}H${WIDTH - 4}`} className="stroke-line" />
            <text x="30" y={y(tick) + 4} textAnchor="end">
              {text(tick, "temperature", units).replace(/ .*/, "")}
            </text>
          </g>
        ))}
        {hourTicks(end, wide ? 8 : 4).map((hours) => (
          <text
            key={hours}
            x={x(hours * 3600)}
            y={HEIGHT - 4}
            textAnchor={x(hours * 3600) > WIDTH - 24 ? "end" : "middle"}
          >
            {hours} h
          </text>
        ))}
        <path
          d={`M${shown.map(([at, celsius]) => `${x(at)} ${y(celsius)}`).join("L")}`}
          fill="none"
          className="stroke-rust"
          strokeWidth="1.5"
          strokeDasharray="5 3"
        />
        {one.probe.map(([at, celsius]) => (
          <circle key={at} cx={x(at)} cy={y(celsius)} r="1.8" className="fill-ink" />
        ))}
        {one.surface.map(([at, celsius]) => (
          <rect key={at} x={x(at) - 3} y={y(celsius) - 3} width="6" height="6" className="fill-spruce" />
        ))}
      </svg>
      <figcaption className="text-[12.5px]">
        {one.predicted.called}: {one.pace ? one.pace.says : `${read.length} readings, too few to tell`}.
        {one.absurd ? ` ${one.absurd} that cannot be were left out.` : ""}{" "}
        <span className="text-slate">Dashed: predicted; dots: probe; squares: surface.</span>
      </figcaption>
    </figure>
  );
}
