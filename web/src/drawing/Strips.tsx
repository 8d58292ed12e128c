/** Beside the section, on the same heights: what each layer weighs and how hot it gets, or its depth
 *  against the sheet's. */
import type { Schemas } from "../api/client";
import type { Plan } from "../api/queries";
import { layersOf, volumeAt } from "../domain/boundaries";
import { degrees, text } from "../domain/format";
import { heatAxis, ticks, type Chance, type LayerHeat } from "../domain/heat";
import { Fig } from "../ui/Fig";
import { useUnits } from "../ui/session";

interface StripsProps {
  plan: Plan;
  section: Schemas["Section"];
  rows: number[];
  provisional?: boolean | undefined;
  moved?: { layer: number; at: number } | null | undefined;
  tall: number;
}

/** To weigh, and how hot it gets against what is wanted, on the same heights as the section. Where heat is
 *  not computed: the depth against the sheet's. */
export function Strips({ plan, section, rows, provisional, moved, tall }: StripsProps) {
  const { units } = useUnits();
  const layers = layersOf(plan, section.void_id);
  const count =
    [...plan.voids, ...(plan.coats ?? []).map((coat) => ({ ...coat, void_id: coat.coat_id }))].find(
      (one) => one.void_id === section.void_id,
    )?.count ?? 1;
  const axis = heatAxis(layers.map((layer) => layer.heat));
  const foot = (rows[0] ?? tall) + 26;
  return (
    <div className="relative h-full text-[12px]">
      <p className="absolute left-0 top-0 text-slate text-[13px]">
        {count > 1 ? `each of ${count}` : "in the hollow"}
      </p>
      <p className="absolute left-[116px] top-0 text-slate text-[13px] whitespace-nowrap">
        {axis
          ? `peak${layers.some((layer) => layer.heat?.chance) ? ", 8 of 10 pours" : ""}`
          : "depth / most allowed"}
      </p>
      {axis ? (
        <svg
          className="absolute left-[104px] top-5"
          width={PEAK_WIDE + 28}
          height={foot - 20}
          aria-hidden="true"
        >
          <g transform="translate(12 0)">
            {ticks(axis.low, axis.high).map((tick) => (
              <g key={tick}>
                <path d={`M${peakX(axis, tick)} 16V${foot - 24}`} className="stroke-line" />
                {Math.abs(peakX(axis, tick) - peakX(axis, axis.limit)) > 26 ? (
                  <text x={peakX(axis, tick)} y="11" textAnchor="middle" className="fill-slate!">
                    {units === "us" ? `${Math.round(tick * 1.8 + 32)}°` : `${tick}°`}
                  </text>
                ) : null}
              </g>
            ))}
            <path
              d={`M${peakX(axis, axis.limit)} 16V${foot - 24}`}
              className="stroke-rust"
              strokeWidth="1.6"
              strokeDasharray="5 3"
            />
            <text
              x={Math.min(peakX(axis, axis.limit), PEAK_WIDE - 8)}
              y="11"
              textAnchor="middle"
              className="fill-rust!"
              fontWeight="600"
            >
              {units === "us" ? `${Math.round(axis.limit * 1.8 + 32)}°` : `${axis.limit}°`}
            </text>
          </g>
        </svg>
      ) : null}
      {layers.map((layer, index) => {
        const touched = moved && (moved.layer === index || moved.layer === index - 1);
        const from = moved && moved.layer === index - 1 ? moved.at : layer.from_m;
        const to = moved && moved.layer === index ? moved.at : layer.to_m;
        const litres = touched
          ? volumeAt(section.volume_table as number[][] as [number, number][], to) -
            volumeAt(section.volume_table as number[][] as [number, number][], from)
          : layer.volume.value;
        const mass = touched
          ? { ...layer.mass, value: layer.mass.value * (litres / layer.volume.value) }
          : layer.mass;
        return (
          <div key={index} className="absolute left-0 right-0" style={{ top: rows[index]! - 16 }}>
            <div className="absolute left-0 top-0 w-[112px] leading-tight">
              <Fig
                figure={mass}
                plan={plan}
                className="text-[19px] font-semibold"
                provisional={provisional || !!touched}
              />
              <div className="text-slate">
                {layers.length > 1 ? `layer ${layer.number}, ` : ""}
                {touched ? "≈ " : ""}
                {text(litres, "volume", units)}
              </div>
            </div>
            {axis && layer.heat ? (
              <Peak plan={plan} heat={layer.heat} axis={axis} band={touched ? null : layer.heat.chance} />
            ) : (
              <Allowed plan={plan} layer={layer} depth={to - from} />
            )}
          </div>
        );
      })}
    </div>
  );
}

const PEAK_WIDE = 116;

function peakX(axis: { low: number; high: number }, celsius: number): number {
  return 4 + Math.min(Math.max((celsius - axis.low) / (axis.high - axis.low), 0), 1) * (PEAK_WIDE - 8);
}

function Peak({
  plan,
  heat,
  axis,
  band,
}: {
  plan: Plan;
  heat: LayerHeat;
  axis: { low: number; high: number; limit: number };
  band: Chance | null | undefined;
}) {
  const { units } = useUnits();
  const at = peakX(axis, heat.peak.value);
  const over = heat.peak.value > heat.wanted_c;
  const words = heat.runs_away ? "runs away" : degrees(heat.peak.value, units);
  return (
    <div className="absolute left-[116px] top-0" style={{ width: PEAK_WIDE }}>
      <svg
        width={PEAK_WIDE + 10}
        height="18"
        className="block"
        role="img"
        aria-label={`Hottest ${words}${band ? `, between ${degrees(band.low_c, units)} and ${degrees(band.high_c, units)}` : ""}, wanted at most ${degrees(heat.wanted_c, units)}`}
      >
        {band ? (
          <rect
            x={peakX(axis, band.low_c)}
            y="3"
            width={Math.max(peakX(axis, band.high_c) - peakX(axis, band.low_c), 2)}
            height="12"
            fill="var(--straw)"
            stroke="var(--ink)"
            strokeWidth="0.6"
          />
        ) : null}
        <path d={`M${at} 0V18`} className={over ? "stroke-rust" : "stroke-ink"} strokeWidth="3" />
      </svg>
      <div
        className={`absolute top-[17px] whitespace-nowrap ${over ? "text-rust" : ""}`}
        style={{ left: Math.min(Math.max(at - 18, 0), PEAK_WIDE - 62) }}
      >
        <Fig
          figure={heat.peak}
          plan={plan}
          className="font-semibold"
          unitClass=""
          as={
            heat.runs_away
              ? { number: "runs away", unit: "" }
              : { number: degrees(heat.peak.value, units), unit: "" }
          }
        />
      </div>
    </div>
  );
}

function Allowed({ plan, layer, depth }: { plan: Plan; layer: Schemas["LayerPlan"]; depth: number }) {
  const { units } = useUnits();
  const most = Math.max(layer.allowed.value, depth, 0.001) * 1.12;
  const across = (value: number) => (value / most) * 108;
  return (
    <div
      className="absolute left-[118px] top-1.5"
      aria-label={`${text(depth, "length", units)} of ${text(layer.allowed.value, "length", units)} allowed`}
    >
      <div className="relative h-3 border-l border-ink" style={{ width: 110 }}>
        <div
          className="absolute inset-y-0 left-0 border border-ink"
          style={{
            width: across(depth),
            background: depth > layer.allowed.value + 1e-6 ? "var(--rust)" : "var(--straw)",
          }}
        />
        <div
          className="absolute -inset-y-1 border-l-2 border-dashed border-rust"
          style={{ left: across(layer.allowed.value) }}
        />
      </div>
      <div className="text-slate whitespace-nowrap">
        {text(depth, "length", units)} of{" "}
        <Fig
          figure={layer.allowed}
          plan={plan}
          className="text-rust"
          unitClass=""
          label="Deepest the sheet allows"
        />
      </div>
    </div>
  );
}
