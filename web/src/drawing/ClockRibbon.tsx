/** The clock: layers or pieces as bars on a time axis, nights shaded, windows outlined, hands-on pins, a
 *  time cursor. */
import { scaleTime } from "d3-scale";
import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { Schemas } from "../api/client";
import { midnights } from "../domain/time";
import { degrees, moment } from "../domain/format";
import { useUnits } from "../ui/session";
import { Grip, Knob } from "./Grip";
import { useWidth } from "./useWidth";

type Segment = Schemas["Segment"];
type Pin = Schemas["Pin"];

export interface RibbonRow {
  label: string;
  segments: Segment[];
  pins?: Pin[];
  /** only proposed: drawn faint */
  faint?: boolean;
  /** hottest over time, drawn as a line over the bar */
  heat?: { points: [Date, number][]; peak: number; over: boolean };
}

interface Props {
  from: Date;
  to: Date;
  zone: string;
  away: [string, string][];
  rows: RibbonRow[];
  pins?: Pin[];
  cursor: Date | null;
  cursorWord?: string;
  onCursor?: (at: Date) => void;
  rowHeight?: number;
  labelWidth?: number;
  hideLabels?: boolean;
  /** the first mix, to be moved along the axis; told when it is let go */
  start?: { at: Date; onMove: (at: Date) => void } | undefined;
  /** in little: bars and days, no word on a bar, no flag at the cursor */
  slim?: boolean;
}

export const FILLS: Record<Segment["state"], string> = {
  mix: "var(--spruce)",
  workable: "var(--fresh)",
  liquid: "var(--liquid)",
  setting: "var(--amber)",
  bond: "var(--spruce-soft)",
  closed: "var(--line)",
  demould: "var(--spruce-soft)",
};
export const IS_WINDOW = new Set<Segment["state"]>(["bond", "demould"]);
const LEAST_WIDTH = 560;
const HEAD = 46;

export function ClockRibbon({
  from,
  to,
  zone,
  away,
  rows,
  pins,
  cursor,
  cursorWord = "",
  onCursor,
  rowHeight = 46,
  labelWidth = 64,
  hideLabels,
  slim,
  start,
}: Props) {
  const [ref, shown] = useWidth<HTMLDivElement>();
  const width = slim ? shown : Math.max(shown, LEAST_WIDTH);
  const head = slim ? 20 : HEAD;
  const tall = Math.min(18, rowHeight - 3);
  const x0 = hideLabels ? 0 : labelWidth;
  const x = scaleTime()
    .domain([from, to])
    .range([x0, width - 8])
    .clamp(true);
  const foot = slim ? 4 : pins?.length ? (pins.length > 4 ? 60 : 44) : 8;
  const height = head + rows.length * rowHeight + foot;
  const held = useRef(false);

  const point = (event: PointerEvent) => {
    const target = event.currentTarget as SVGElement;
    const box = (target.ownerSVGElement ?? target).getBoundingClientRect();
    onCursor?.(x.invert(event.clientX - box.left));
  };
  const key = (event: KeyboardEvent) => {
    if (!cursor || !onCursor) return;
    const step = (event.shiftKey ? 10 : 1) * 1_800_000;
    const next = { ArrowRight: +cursor + step, ArrowLeft: +cursor - step, Home: +from, End: +to }[event.key];
    if (next === undefined) return;
    event.preventDefault();
    onCursor(new Date(Math.min(Math.max(next, +from), +to)));
  };
  const days = midnights(from, to, zone);
  const dayWidth = ((width - x0) * 86_400_000) / Math.max(+to - +from, 1);
  const every = Math.max(1, Math.ceil(56 / dayWidth));

  return (
    <div
      ref={ref}
      className="overflow-x-auto"
      tabIndex={!slim && shown < LEAST_WIDTH ? 0 : undefined}
      role="group"
      aria-label="Clock"
    >
      {shown > 0 ? (
        <svg width={width} height={height} className="block text-[12px]">
          {away.map(([begin, end], index) => (
            <rect
              key={index}
              x={x(new Date(begin))}
              y={head - 4}
              width={Math.max(x(new Date(end)) - x(new Date(begin)), 0)}
              height={height - head - foot + 8}
              fill="var(--night)"
            />
          ))}
          {days.map((day, index) => (
            <g key={day.label + index}>
              <path d={`M${x(day.at)} ${head - 8}V${height - foot + 4}`} className="stroke-line" />
              {index % every === 0 && x(day.at) < width - 44 && day.at >= from ? (
                <text x={x(day.at) + 4} y={slim ? head - 8 : HEAD - 13} fontWeight="600">
                  {day.label}
                </text>
              ) : null}
            </g>
          ))}
          {rows.map((row, index) => {
            const y = head + index * rowHeight + (row.heat ? rowHeight - 24 : (rowHeight - tall) / 2);
            return (
              <g key={row.label + index} opacity={row.faint ? 0.5 : undefined}>
                {hideLabels || rowHeight < 13 ? null : (
                  <text x="0" y={y + tall / 2 + 4} fontSize="13" fontWeight="600">
                    {row.label}
                  </text>
                )}
                {hideLabels && shown < LEAST_WIDTH ? (
                  <text x="4" y={y + 32} fontWeight="600">
                    {row.label}
                  </text>
                ) : null}
                {row.heat ? (
                  <HeatLine
                    heat={row.heat}
                    x={x}
                    base={y - 1}
                    tall={rowHeight - 26}
                    from={from}
                    to={to}
                    all={rows}
                  />
                ) : null}
                {row.segments.map((segment, at) => (
                  <Bar key={at} segment={segment} y={y} x={x} zone={zone} tall={tall} hasWords={!slim} />
                ))}
                {(row.pins ?? [])
                  .filter((pin) => inside(pin.at, from, to))
                  .map((pin, at) => (
                    <Stake
                      key={at}
                      x={x(new Date(pin.at))}
                      top={y - 12}
                      bottom={y}
                      title={`${pin.label}, ${moment(pin.at, zone)}`}
                    />
                  ))}
              </g>
            );
          })}
          {pins ? (
            <Pins
              pins={pins.filter((pin) => inside(pin.at, from, to))}
              x={x}
              y={height - foot + 6}
              width={width}
              zone={zone}
            />
          ) : null}
          {start ? (
            <StartGrip
              key={+start.at}
              start={start}
              x={x}
              perPixel={(+to - +from) / Math.max(width - 8 - x0, 1)}
              base={height - foot}
              width={width}
              zone={zone}
            />
          ) : null}
          {cursor && inside(cursor.toISOString(), from, to) ? (
            <g
              role={onCursor ? "slider" : undefined}
              tabIndex={onCursor ? 0 : undefined}
              aria-label={onCursor ? "Time cursor" : undefined}
              aria-valuemin={onCursor ? +from : undefined}
              aria-valuemax={onCursor ? +to : undefined}
              aria-valuenow={onCursor ? +cursor : undefined}
              aria-valuetext={onCursor ? moment(cursor.toISOString(), zone) : undefined}
              className={onCursor ? "cursor-ew-resize touch-none" : ""}
              onKeyDown={key}
              onPointerDown={(event) => {
                held.current = true;
                event.currentTarget.setPointerCapture(event.pointerId);
              }}
              onPointerMove={(event) => held.current && point(event)}
              onPointerUp={() => {
                held.current = false;
              }}
            >
              <rect x={x(cursor) - 10} y="0" width="20" height={height - foot} fill="transparent" />
              <path
                d={`M${x(cursor)} ${slim ? head - 4 : 16}V${height - foot + 4}`}
                className="stroke-ink"
                strokeWidth="1.7"
              />
              {slim ? null : (
                <Flag
                  x={x(cursor)}
                  width={width}
                  word={`${cursorWord} ${moment(cursor.toISOString(), zone)}`.trim()}
                />
              )}
            </g>
          ) : null}
        </svg>
      ) : null}
    </div>
  );
}

interface StartProps {
  start: NonNullable<Props["start"]>;
  x: (at: Date) => number;
  perPixel: number;
  base: number;
  width: number;
  zone: string;
}

const FIVE_MIN = 300_000;

/** Where mixing begins: moved along the axis, on five minutes. What follows is worked out when it is let go. */
function StartGrip({ start, x, perPixel, base, width, zone }: StartProps) {
  const [at, setAt] = useState(+start.at);
  const says = moment(new Date(at).toISOString(), zone);
  const place = Math.min(x(start.at) + (at - +start.at) / perPixel, width - 10);
  return (
    <Grip
      label="Start of the first mix"
      at={at}
      least={+start.at - 14 * 86_400_000}
      most={+start.at + 28 * 86_400_000}
      snap={FIVE_MIN}
      step={6 * FIVE_MIN}
      perPixel={perPixel}
      axis="right"
      says={says}
      onMove={(next, done) => {
        setAt(next);
        if (done) start.onMove(new Date(next));
      }}
    >
      {(isHeld) => (
        <>
          <path
            d={`M${place} ${HEAD - 6}V${base + 4}`}
            className="stroke-spruce"
            strokeWidth="1.5"
            strokeDasharray="2 3"
          />
          <Knob x={place} y={base + 2} turned />
          {isHeld ? <Flag x={place} width={width} word={`start ${says}`} /> : null}
        </>
      )}
    </Grip>
  );
}

/** All rows on one scale, so that a hotter layer stands higher; the degrees are written at the peak. */
function HeatLine({
  heat,
  x,
  base,
  tall,
  from,
  to,
  all,
}: {
  heat: NonNullable<RibbonRow["heat"]>;
  x: (at: Date) => number;
  base: number;
  tall: number;
  from: Date;
  to: Date;
  all: RibbonRow[];
}) {
  const { units } = useUnits();
  const values = all.flatMap((row) => row.heat?.points.map((point) => point[1]) ?? []);
  const low = Math.min(...values);
  const high = Math.max(...values, low + 10);
  const shown = heat.points.filter(([at]) => at >= from && at <= to);
  if (shown.length < 2) return null;
  const y = (celsius: number) => base - ((celsius - low) / (high - low)) * tall;
  const top = shown.reduce((best, point) => (point[1] > best[1] ? point : best));
  return (
    <g pointerEvents="none">
      <path
        d={`M${shown.map(([at, celsius]) => `${x(at).toFixed(1)} ${y(celsius).toFixed(1)}`).join("L")}`}
        fill="none"
        className="stroke-rust"
        strokeWidth={heat.over ? 2.4 : 1.4}
      />
      <text x={x(top[0])} y={y(top[1]) - 4} textAnchor="middle" className="fill-rust!" fontWeight="600">
        {degrees(heat.peak, units)}
      </text>
    </g>
  );
}

function inside(at: string, from: Date, to: Date): boolean {
  const moment = new Date(at);
  return moment >= from && moment <= to;
}

function Flag({ x, width, word }: { x: number; width: number; word: string }) {
  const wide = word.length * 7 + 16;
  const left = Math.min(Math.max(x - wide / 2, 0), width - wide);
  return (
    <g>
      <rect x={left} y="0" width={wide} height="20" rx="3" className="fill-ink" />
      <text x={left + wide / 2} y="14" textAnchor="middle" fontWeight="600" className="fill-paper!">
        {word}
      </text>
    </g>
  );
}

function Bar({
  segment,
  y,
  x,
  zone,
  tall,
  hasWords,
}: {
  segment: Segment;
  y: number;
  x: (at: Date) => number;
  zone: string;
  tall: number;
  hasWords: boolean;
}) {
  const left = x(new Date(segment.from_at));
  const wide = x(new Date(segment.to_at)) - left;
  const isWindow = IS_WINDOW.has(segment.state);
  if (wide <= 0) return null;
  const fits = hasWords && wide > segment.label.length * 6.4 + 8;
  return (
    <g>
      <rect
        x={left}
        y={isWindow ? y - 0.5 : y}
        width={segment.state === "mix" ? Math.max(wide, 4) : wide}
        height={isWindow ? tall + 1 : tall}
        fill={FILLS[segment.state]}
        stroke={isWindow ? "var(--spruce)" : "var(--ink)"}
        strokeWidth={isWindow ? 1.5 : 0.6}
      >
        <title>{`${segment.label}: ${moment(segment.from_at, zone)} to ${moment(segment.to_at, zone)}`}</title>
      </rect>
      {isWindow && fits ? (
        <text
          x={left + wide / 2}
          y={y + 13}
          textAnchor="middle"
          className="fill-spruce!"
          fontWeight="500"
          pointerEvents="none"
        >
          {segment.label}
        </text>
      ) : null}
    </g>
  );
}

function Stake({ x, top, bottom, title }: { x: number; top: number; bottom: number; title: string }) {
  return (
    <g>
      <title>{title}</title>
      <path d={`M${x + 1} ${top}V${bottom}`} className="stroke-spruce" strokeWidth="1.5" />
      <circle cx={x + 1} cy={top - 2} r="4.500" className="fill-spruce" />
    </g>
  );
}

/** Hands-on moments under the axis; a label that would run into its neighbour goes to another line. */
function Pins({
  pins,
  x,
  y,
  width,
  zone,
}: {
  pins: Pin[];
  x: (at: Date) => number;
  y: number;
  width: number;
  zone: string;
}) {
  const ends = [-Infinity, -Infinity, -Infinity];
  return pins.map((pin, index) => {
    const at = x(new Date(pin.at));
    const wide = pin.label.length * 6.3 + 16;
    const flip = at + wide > width;
    const start = flip ? at - wide : at;
    const free = ends.findIndex((end) => start >= end);
    const line = free === -1 ? ends.length - 1 : free;
    if (free !== -1) ends[line] = start + wide;
    const cy = y + 8 + line * 16;
    return (
      <g key={index}>
        <title>{`${pin.label}, ${moment(pin.at, zone)}`}</title>
        <path d={`M${at} ${y - 8}V${cy}`} className="stroke-ink" strokeWidth="1" />
        <circle cx={at} cy={cy} r="4.500" className="fill-spruce" />
        {free !== -1 ? (
          <text x={flip ? at - 9 : at + 9} y={cy + 4} textAnchor={flip ? "end" : "start"}>
            {pin.label}
          </text>
        ) : null}
      </g>
    );
  });
}

export function ClockLegend() {
  const items: [string, string, boolean][] = [
    ["mix and pour", FILLS.mix, false],
    ["workable", FILLS.workable, false],
    ["liquid", FILLS.liquid, false],
    ["setting", FILLS.setting, false],
    ["window", FILLS.bond, true],
    ["hardening", FILLS.closed, false],
  ];
  return (
    <p className="flex flex-wrap gap-x-5 gap-y-1 text-[12px] text-slate">
      {items.map(([name, fill, isWindow]) => (
        <span key={name} className="flex items-center gap-1.5">
          <svg width="16" height="11" aria-hidden="true">
            <rect
              x="0.500"
              y="0.500"
              width="15"
              height="10"
              fill={fill}
              stroke={isWindow ? "var(--spruce)" : "var(--ink)"}
              strokeWidth={isWindow ? 1.5 : 0.6}
            />
          </svg>
          {name}
        </span>
      ))}
      <span>shaded: nobody here</span>
    </p>
  );
}

export function ClockTable({ rows, zone }: { rows: RibbonRow[]; zone: string }) {
  return (
    <details className="no-print">
      <summary className="text-[12px] text-slate cursor-pointer">The clock as a table</summary>
      <table className="plain">
        <thead>
          <tr>
            <th>what</th>
            <th>state</th>
            <th>from</th>
            <th>to</th>
          </tr>
        </thead>
        <tbody>
          {rows.flatMap((row) =>
            row.segments.map((segment, index) => (
              <tr key={row.label + index}>
                <td>{row.label}</td>
                <td>{segment.label}</td>
                <td>{moment(segment.from_at, zone)}</td>
                <td>{moment(segment.to_at, zone)}</td>
              </tr>
            )),
          )}
        </tbody>
      </table>
    </details>
  );
}
