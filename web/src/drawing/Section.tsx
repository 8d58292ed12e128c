/** The section: a side cut to scale from computed data, layers with movable boundaries, and the strips
 *  beside it. */
import { useEffect, useId, useState } from "react";
import type { Plan } from "../api/queries";
import type { Schemas } from "../api/client";
import { edgesOf, layersOf, type Edge } from "../domain/boundaries";
import { degrees, show, text } from "../domain/format";
import {
  cureColour,
  heatColour,
  hottestBetween,
  momentOf,
  secondsAt,
  type Moment,
  type Tint,
} from "../domain/heat";
import { halfAt, nameOf, ringsPath, slice, spread, stateAt } from "../domain/section";
import { useUnits } from "../ui/session";
import { Grip, Knob, lengthSteps } from "./Grip";
import { Strips } from "./Strips";
import { useWidth } from "./useWidth";

interface Props {
  plan: Plan;
  section: Schemas["Section"];
  tint: string;
  cursor: Date | null;
  /** Called while a boundary moves, and once more with done when it is let go. */
  onMove?: (edge: Edge, at: number, done: boolean) => void;
  provisional?: boolean | undefined;
  moved?: { layer: number; at: number } | null;
  /** temperature or cure at the cursor instead of the resin's own tint */
  shade?: Tint;
  /** the fill line was moved to this height and let go: whether that is kept; none: it cannot be moved */
  onFill?: ((level: number) => Promise<boolean>) | undefined;
}

const WALL = 13;
const STRIP = 250;
const DIMS = 66;
const TOP = 40;

export function Section({
  plan,
  section,
  tint,
  cursor,
  onMove,
  provisional,
  moved,
  shade = "fill",
  onFill,
}: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const { units } = useUnits();
  const layers = layersOf(plan, section.void_id);
  const edges = edgesOf(plan, section.void_id);
  const wide = width >= 640;
  const room = width - DIMS - 2 * WALL - 46 - (wide ? STRIP : 0);
  const tallest = width >= 1000 ? 340 : wide ? 250 : 190;
  const scale = room > 0 ? Math.min(room / (2 * section.half_width_m), tallest / section.fill_m) : 1;
  const height = section.fill_m * scale;
  const half = section.half_width_m * scale;
  const x0 = DIMS + WALL + (wide ? 14 : 6);
  const middle = x0 + half;
  const bottom = TOP + Math.max(height, 1);
  const y = (level: number) => bottom - level * scale;
  const rows = spread(
    layers.map((layer) => (y(layer.from_m) + y(layer.to_m)) / 2),
    40,
    TOP - 26,
    bottom + 14,
  );
  const total = bottom + 46;
  const rings = ringsPath(section, middle, scale, y);
  const band = (from: number, to: number) =>
    `M${middle - half} ${y(from)}H${middle + half}V${y(to)}H${middle - half}Z`;
  const now =
    shade === "fill"
      ? null
      : momentOf(
          plan.heat_maps?.find((one) => one.void_id === section.void_id),
          secondsAt(plan, cursor),
        );
  const overfill = section.fill_m > section.depth_m ? band(section.depth_m, section.fill_m) : "";

  return (
    <div ref={ref} className="w-full overflow-hidden">
      {width > 0 ? (
        <svg
          width={width}
          height={Math.max(total, (rows.at(-1) ?? 0) + 40)}
          role="group"
          aria-label={`Section of ${nameOf(plan, section.void_id)}, to scale`}
          className="block text-[12px]"
        >
          <Patterns />
          {rings ? (
            <clipPath id="cut">
              <path d={`${rings}${overfill}`} clipRule="evenodd" />
            </clipPath>
          ) : null}
          {rings ? (
            <CutWall section={section} rings={rings} half={half} middle={middle} y={y} />
          ) : (
            <FormWall section={section} half={half} middle={middle} y={y} />
          )}
          {layers.map((layer, index) => {
            const state = stateAt(plan, layer.number, cursor);
            const hot = hottestBetween(now, layer.from_m, layer.to_m);
            if (now && hot !== null)
              return (
                <Shaded
                  key={index}
                  layer={layer}
                  now={now}
                  shade={shade}
                  d={
                    rings
                      ? band(layer.from_m, layer.to_m)
                      : slice(section, layer.from_m, layer.to_m, middle, scale, y)
                  }
                  clip={!!rings}
                  y={y}
                />
              );
            return (
              <path
                key={index}
                d={
                  rings
                    ? band(layer.from_m, layer.to_m)
                    : slice(section, layer.from_m, layer.to_m, middle, scale, y)
                }
                fill={tint}
                clipPath={rings ? "url(#cut)" : undefined}
                fillOpacity={state === "not poured yet" ? 0.16 : 0.78 - 0.16 * Math.min(index, 3)}
                strokeWidth="1"
                className="stroke-ink"
                strokeDasharray={state === "not poured yet" ? "3 4" : undefined}
              >
                <title>{`Layer ${layer.number}: ${state}`}</title>
              </path>
            );
          })}
          {rings ? (
            <path d={rings} fill="none" className="stroke-ink" strokeWidth="1.3" pointerEvents="none" />
          ) : null}
          <Inclusions section={section} middle={middle} scale={scale} y={y} />
          <FillLine section={section} middle={middle} half={half} y={y} scale={scale} onFill={onFill} />
          {layers.map((layer, index) => (
            <Dimension
              key={index}
              top={y(layer.to_m)}
              bottom={y(layer.from_m)}
              at={rows[index]!}
              x={DIMS - 14}
              value={layer.to_m - layer.from_m}
            />
          ))}
          {layers.map((layer, index) => {
            const hot = hottestBetween(now, layer.from_m, layer.to_m);
            if (hot === null || (layer.to_m - layer.from_m) * scale < 16) return null;
            const cured = curedBetween(now!, layer.from_m, layer.to_m);
            return (
              <text
                key={index}
                x={middle - halfAt(section, (layer.from_m + layer.to_m) / 2) * scale + 8}
                y={(y(layer.from_m) + y(layer.to_m)) / 2 + 5}
                fontSize="15"
                fontWeight="600"
                pointerEvents="none"
                style={{ fill: "#20262b" }}
                stroke="#faf7f0"
                strokeWidth="4"
                paintOrder="stroke"
              >
                {shade === "temperature" ? degrees(hot, units) : `${Math.round(cured)} % cured`}
              </text>
            );
          })}
          {edges.map((edge) => (
            <Boundary
              key={edge.layer}
              edge={edge}
              at={moved?.layer === edge.layer ? moved.at : edge.at}
              reach={(level) => halfAt(section, level) * scale}
              middle={middle}
              right={middle + half}
              y={y}
              scale={scale}
              onMove={onMove}
            />
          ))}
          <ScaleBar x={middle - half} y={bottom + WALL + 20} scale={scale} most={2 * half} />
          {wide ? (
            <foreignObject
              x={Math.min(width - STRIP, Math.max(middle + half + WALL + 60, x0 + 220)) + 6}
              y={0}
              width={STRIP - 6}
              height={Math.max(total, (rows.at(-1) ?? 0) + 40)}
            >
              <Strips
                plan={plan}
                section={section}
                rows={rows}
                provisional={provisional}
                moved={moved}
                tall={Math.max(total, (rows.at(-1) ?? 0) + 40)}
              />
            </foreignObject>
          ) : null}
        </svg>
      ) : null}
    </div>
  );
}

/** What a cut wall is filled with. */
export function Patterns() {
  return (
    <defs>
      <pattern id="hatch" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <path d="M0 0V7" className="stroke-ink" strokeWidth="0.8" />
      </pattern>
      <pattern id="grain" width="9" height="7" patternUnits="userSpaceOnUse">
        <path d="M0 2C3 0 6 4 9 2M0 6H9" fill="none" className="stroke-slate" strokeWidth="0.7" />
      </pattern>
    </defs>
  );
}

/** A block of the form's material with the real cut taken out of it: what is inside of a ring's hole is
 *  solid again. */
export function CutWall({
  section,
  rings,
  half,
  middle,
  y,
}: {
  section: Schemas["Section"];
  rings: string;
  half: number;
  middle: number;
  y: (level: number) => number;
}) {
  const block = `M${middle - half - WALL} ${y(section.depth_m)}H${middle + half + WALL}V${y(0) + WALL}H${middle - half - WALL}Z`;
  return (
    <g>
      <path d={`${block}${rings}`} fillRule="evenodd" fill="var(--form)" />
      <path
        d={`${block}${rings}`}
        fillRule="evenodd"
        fill={section.wall === "wood" ? "url(#grain)" : "url(#hatch)"}
        className="stroke-ink"
        strokeWidth="1.3"
      />
    </g>
  );
}

export function FormWall({
  section,
  half,
  middle,
  y,
}: {
  section: Schemas["Section"];
  half: number;
  middle: number;
  y: (level: number) => number;
}) {
  const levels = section.profile.filter((row) => row[0] <= section.depth_m + 1e-9);
  const scale = half / section.half_width_m;
  const inner = (sign: number) =>
    levels.map((row) => `${(middle + sign * row[1] * scale).toFixed(1)} ${y(row[0]).toFixed(1)}`);
  const top = y(section.depth_m);
  const floor = y(0) + WALL;
  const outer = half + WALL;
  const path = `M${middle - outer} ${top}L${inner(-1).reverse().join("L")}L${inner(1).join("L")}L${middle + outer} ${top}V${floor}H${middle - outer}Z`;
  const dam = section.fill_m > section.depth_m + 1e-9;
  return (
    <g>
      <path d={path} fill="var(--form)" />
      <path
        d={path}
        fill={section.wall === "wood" ? "url(#grain)" : "url(#hatch)"}
        className="stroke-ink"
        strokeWidth="1.3"
      />
      {dam ? (
        <path
          d={`M${middle - half - 4} ${top}V${y(section.fill_m) - 5}h4V${top}M${middle + half + 4} ${top}V${y(section.fill_m) - 5}h-4V${top}`}
          fill="var(--form)"
          className="stroke-ink"
          strokeWidth="1"
        />
      ) : null}
    </g>
  );
}

function Inclusions({
  section,
  middle,
  scale,
  y,
}: {
  section: Schemas["Section"];
  middle: number;
  scale: number;
  y: (level: number) => number;
}) {
  return section.inclusions.map((thing) => {
    const shown = Math.min(thing.count, 14);
    const span = 2 * halfAt(section, (thing.from_m + thing.to_m) / 2) * scale * 0.9;
    const boxes = Array.from({ length: shown }, (_, index) => {
      const across = Math.min(Math.max(thing.across_m * scale, 3), span / shown);
      const x = middle - span / 2 + ((index + 0.5) * span) / shown;
      return (
        <rect
          key={`${thing.inclusion_id}-${index}`}
          x={x - across / 2}
          y={y(thing.to_m)}
          width={across}
          height={(thing.to_m - thing.from_m) * scale}
          rx={Math.min(across / 2, 6)}
          fill="var(--form)"
          fillOpacity="0.85"
          className="stroke-ink"
          strokeWidth="1"
        >
          <title>{thing.name}</title>
        </rect>
      );
    });
    const below = thing.from_m * scale > 18;
    return (
      <g key={thing.inclusion_id}>
        {boxes}
        <text
          x={middle}
          y={below ? y(thing.from_m) + 14 : y(thing.from_m) - 6}
          textAnchor="middle"
          pointerEvents="none"
        >
          {thing.count > 1 ? `${thing.count} × ` : ""}
          {thing.name}
        </text>
      </g>
    );
  });
}

function Dimension({
  top,
  bottom,
  at,
  x,
  value,
}: {
  top: number;
  bottom: number;
  at: number;
  x: number;
  value: number;
}) {
  const { units } = useUnits();
  const shown = show(value, "length", units);
  return (
    <g>
      <path
        d={`M${x} ${top + 1}V${bottom - 1}M${x - 5} ${top + 1}h10M${x - 5} ${bottom - 1}h10`}
        className="stroke-ink"
        fill="none"
      />
      <text x={x - 10} y={at + 3} textAnchor="end" fontSize="16" fontWeight="600">
        {shown.number}
      </text>
      <text x={x - 10} y={at + 17} textAnchor="end" fontSize="12" className="fill-slate!">
        {shown.unit}
      </text>
    </g>
  );
}

interface BoundaryProps {
  edge: Edge;
  at: number;
  reach: (level: number) => number;
  middle: number;
  right: number;
  y: (level: number) => number;
  scale: number;
  onMove?: Props["onMove"];
}

function Boundary({ edge, at, reach, middle, right, y, scale, onMove }: BoundaryProps) {
  const { units } = useUnits();
  const movable = edge.movable && onMove;
  return (
    <g>
      <path
        d={`M${middle - reach(at)} ${y(at)}H${middle + reach(at)}`}
        stroke="#fff"
        strokeOpacity="0.6"
        strokeWidth="3"
      />
      <path
        d={`M${middle - reach(at)} ${y(at)}H${middle + reach(at)}`}
        className="stroke-ink"
        strokeWidth="1.2"
      />
      {movable ? (
        <>
          <path
            d={`M${middle + reach(at)} ${y(at)}H${right}`}
            className="stroke-spruce"
            strokeDasharray="2 3"
          />
          <Grip
            label={`Boundary above layer ${edge.layer + 1}`}
            at={at}
            least={edge.least}
            most={edge.most}
            {...lengthSteps(units)}
            perPixel={1 / scale}
            axis="up"
            says={text(at, "length", units)}
            readAs={1000}
            onMove={(next, done) => onMove?.(edge, next, done)}
          >
            {(isHeld) => (
              <>
                <Knob x={right + 8} y={y(at)} />
                {isHeld ? (
                  <text x={right - 14} y={y(at) - 6} textAnchor="end" fontWeight="600">
                    {text(at, "length", units)}
                  </text>
                ) : null}
              </>
            )}
          </Grip>
        </>
      ) : null}
    </g>
  );
}

interface FillLineProps {
  section: Schemas["Section"];
  middle: number;
  half: number;
  y: (level: number) => number;
  scale: number;
  onFill: Props["onFill"];
}

const MOST_OVERFILL_M = 0.03; // own judgement: more than that is a higher form, not something to sand off

/** The line it is filled to: on the rim, or above it by what is sanded off. */
function FillLine({ section, middle, half, y, scale, onFill }: FillLineProps) {
  const { units } = useUnits();
  const [moved, setMoved] = useState<number | null>(null);
  useEffect(() => setMoved(null), [section]); // a new plan is the truth again
  const at = moved ?? section.fill_m;
  const words =
    at > section.depth_m + 1e-9 ? `, ${text(at - section.depth_m, "length", units)} to sand off` : "";
  return (
    <g>
      <path
        d={`M${middle - half} ${y(at)}H${middle + half}`}
        className="stroke-ink"
        strokeDasharray="5 4"
        strokeWidth="1.3"
      />
      <text x={middle - half - WALL} y={y(at) - 20 < 14 ? 14 : y(at) - 20}>
        fill to here{words}
      </text>
      {onFill ? (
        <Grip
          label="Fill line"
          at={at}
          least={section.depth_m}
          most={section.depth_m + MOST_OVERFILL_M}
          {...lengthSteps(units)}
          perPixel={1 / scale}
          axis="up"
          says={`fill to here${words}`}
          readAs={1000}
          onMove={(next, done) => {
            setMoved(next);
            if (done) void onFill(next).then((isKept) => !isKept && setMoved(null));
          }}
        >
          {() => <Knob x={middle + half - 24} y={y(at) - 14} />}
        </Grip>
      ) : null}
    </g>
  );
}

function ScaleBar({ x, y, scale, most }: { x: number; y: number; scale: number; most: number }) {
  const { units } = useUnits();
  const steps =
    units === "us"
      ? [0.0254 / 4, 0.0254, 0.0508, 0.1524, 0.3048]
      : [0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1];
  const step = steps.findLast((one) => one * scale <= Math.min(most, 140)) ?? steps[0]!;
  return (
    <g>
      <path d={`M${x} ${y - 4}v8M${x} ${y}h${step * scale}m0 -4v8`} className="stroke-slate" fill="none" />
      <text x={x + step * scale + 8} y={y + 4} className="fill-slate!">
        {text(step, "length", units)}, to scale
      </text>
    </g>
  );
}

/** One layer shaded by height: what the middle of the void is at this moment. */
function Shaded({
  layer,
  now,
  shade,
  d,
  clip,
  y,
}: {
  layer: Schemas["LayerPlan"];
  now: Moment;
  shade: Tint;
  d: string;
  clip: boolean;
  y: (level: number) => number;
}) {
  const id = useId();
  const inside = now.heights
    .map((height, index) => ({ height, celsius: now.temperature[index], cure: now.cure[index] }))
    .filter((one) => one.height > layer.from_m && one.height < layer.to_m && one.celsius !== null);
  const [low, high] = [y(layer.from_m), y(layer.to_m)];
  return (
    <g>
      <linearGradient id={id} gradientUnits="userSpaceOnUse" x1="0" x2="0" y1={low} y2={high}>
        {inside.map((one) => (
          <stop
            key={one.height}
            offset={(one.height - layer.from_m) / (layer.to_m - layer.from_m)}
            stopColor={
              shade === "temperature"
                ? heatColour(one.celsius!, 20, layer.heat?.never_c ?? 80)
                : cureColour(one.cure!)
            }
          />
        ))}
      </linearGradient>
      <path
        d={d}
        fill={`url(#${id})`}
        clipPath={clip ? "url(#cut)" : undefined}
        strokeWidth="1"
        className="stroke-ink"
      />
    </g>
  );
}

function curedBetween(now: Moment, from: number, to: number): number {
  const found = now.cure.filter((_, index) => now.heights[index]! > from && now.heights[index]! < to);
  return found.length ? found.reduce((sum, one) => sum + one, 0) / found.length : 0;
}
