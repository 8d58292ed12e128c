/** The next layer poured too early, in time, too late: one drawing with what follows from each. */
import { scaleLinear } from "d3-scale";
import { layersOf } from "../../domain/boundaries";
import { degrees, text, type Units } from "../../domain/format";
import { ticks } from "../../domain/heat";
import { useUnits } from "../../ui/session";
import type { StageProps } from "../props";

const WIDE = 288;
const TALL = 132;

export function EarlyOrLate({ plan, voidId }: Pick<StageProps, "plan" | "voidId">) {
  const { units } = useUnits();
  const layers = layersOf(plan, voidId);
  const drawn = layers.slice(0, -1).filter((layer) => layer.heat?.early?.length && layer.heat.opens_s);
  if (!drawn.length) return null;
  return (
    <section className="mt-4" aria-label="Too early or too late">
      <h2>Too early, too late</h2>
      {drawn.slice(0, 3).map((layer) => {
        const heat = layer.heat!;
        const opens = heat.opens_s!;
        const closes = heat.closes_s ?? null;
        const x = scaleLinear()
          .domain([0, Math.max((closes ?? opens) * 1.15, heat.early!.at(-1)!.after_s)])
          .range([30, WIDE]);
        const most = Math.min(Math.max(...heat.early!.map((one) => one.peak_c), heat.never_c + 10), 200);
        const y = scaleLinear()
          .domain([20, most])
          .range([TALL - 30, 22])
          .clamp(true);
        const early = heat.early!.findLast((one) => one.too_hot);
        return (
          <figure key={layer.number} className="mt-2">
            <figcaption className="text-[13px]">
              <b className="font-semibold">
                Layer {layer.number + 1} poured so long after layer {layer.number}
              </b>
            </figcaption>
            <svg
              width={WIDE + 6}
              height={TALL}
              className="block text-[12px] max-w-full"
              role="img"
              aria-label={`Takes a bond from ${text(opens, "duration", units)} ${closes === null ? "on" : `to ${text(closes, "duration", units)}`}. ${heat.early!.map((one) => `after ${text(one.after_s, "duration", units)} ${degrees(one.peak_c, units)}`).join(", ")}`}
            >
              <rect
                x={x(opens)}
                y="16"
                width={(closes === null ? WIDE : x(closes)) - x(opens)}
                height={TALL - 46}
                fill="var(--spruce-soft)"
                stroke="var(--spruce)"
              />
              <text
                x={(x(opens) + (closes === null ? WIDE : x(closes))) / 2}
                y="12"
                textAnchor="middle"
                className="fill-spruce!"
                fontWeight="600"
              >
                pour on
              </text>
              <text x="32" y="12" className="fill-rust!" fontWeight="600">
                {early ? "boils, cracks" : "prints through"}
              </text>
              {closes !== null && WIDE - x(closes) > 56 ? (
                <text x={WIDE + 4} y="12" textAnchor="end" className="fill-slate!">
                  bond line
                </text>
              ) : null}
              {ticks(20, most, 3).map((tick) => (
                <g key={tick}>
                  <path d={`M30 ${y(tick)}H${WIDE}`} className="stroke-line" />
                  <text x="26" y={y(tick) + 4} textAnchor="end" className="fill-slate!">
                    {units === "us" ? Math.round(tick * 1.8 + 32) : tick}°
                  </text>
                </g>
              ))}
              <path d={`M30 ${y(heat.wanted_c)}H${WIDE}`} className="stroke-rust" strokeDasharray="5 3" />
              <path
                d={`M${heat.early!.map((one) => `${x(one.after_s)} ${y(one.peak_c)}`).join("L")}`}
                fill="none"
                className="stroke-ink"
                strokeWidth="1.6"
              />
              {heat.early!.map((one) => (
                <circle
                  key={one.after_s}
                  cx={x(one.after_s)}
                  cy={y(one.peak_c)}
                  r="3"
                  className={one.too_hot ? "fill-rust" : "fill-ink"}
                >
                  <title>{`after ${text(one.after_s, "duration", units)}: ${degrees(one.peak_c, units)}`}</title>
                </circle>
              ))}
              {ticks(0, x.domain()[1]! / 3600, 5).map((hours) => (
                <text
                  key={hours}
                  x={x(hours * 3600)}
                  y={TALL - 12}
                  textAnchor="middle"
                  className="fill-slate!"
                >
                  {hours} h
                </text>
              ))}
            </svg>
            <p className="text-[12.5px] text-slate">
              {early
                ? `Still after ${text(early.after_s, "duration", units)} it would ${outcome(early, units)}: ` +
                  "the layer below keeps its heat in."
                : "Too early it stays cool here, but the layers mix and things sink through."}
              {closes === null
                ? ""
                : ` After ${text(closes, "duration", units)} it no longer bonds by itself: abrade and clean first.`}
            </p>
          </figure>
        );
      })}
    </section>
  );
}

function outcome(early: { runs_away: boolean; peak_c: number }, units: Units): string {
  return early.runs_away ? "overheat" : `reach ${degrees(early.peak_c, units)}`;
}
