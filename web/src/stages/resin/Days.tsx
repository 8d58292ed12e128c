/** Days of several systems on one axis: bars of what each resin is doing, nights and away-hours shaded behind them. */
import { scaleTime } from "d3-scale";
import type { Schemas } from "../../api/client";
import { moment } from "../../domain/format";
import { midnights } from "../../domain/time";
import { FILLS, IS_WINDOW } from "../../drawing/ClockRibbon";
import { useWidth } from "../../drawing/useWidth";

type Clock = Schemas["Clock"];

export interface DaysAxis {
  from: Date;
  to: Date;
  zone: string;
  /** spans nobody is there, of the system that takes longest */
  away: [string, string][];
}

const TALL = 34;

/** From the first start to the last end of them all; null: none of them has a clock. */
export function axisOf(clocks: Clock[]): DaysAxis | null {
  if (!clocks.length) return null;
  const longest = clocks.reduce((best, one) => (one.to_at > best.to_at ? one : best));
  const from = new Date(Math.min(...clocks.map((one) => +new Date(one.from_at))));
  return { from, to: new Date(longest.to_at), zone: longest.zone, away: longest.away as [string, string][] };
}

function useAxis(axis: DaysAxis) {
  const [ref, width] = useWidth<HTMLSpanElement>();
  const x = scaleTime().domain([axis.from, axis.to]).range([0, width]).clamp(true);
  const days = midnights(axis.from, axis.to, axis.zone);
  const each = (width * 86_400_000) / Math.max(+axis.to - +axis.from, 1);
  return { ref, width, x, days, every: Math.max(1, Math.ceil(52 / Math.max(each, 1))) };
}

export function DaysHead({ axis }: { axis: DaysAxis }) {
  const { ref, width, x, days, every } = useAxis(axis);
  return (
    <span ref={ref} className="block w-full h-5 relative">
      {days
        .filter((day, index) => index % every === 0 && day.at >= axis.from && x(day.at) < width - 36)
        .map((day) => (
          <span key={+day.at} className="absolute whitespace-nowrap" style={{ left: x(day.at) }}>
            {day.label}
          </span>
        ))}
    </span>
  );
}

export function DaysBar({ clock, axis, zone }: { clock: Clock; axis: DaysAxis; zone: string }) {
  const { ref, width, x, days } = useAxis(axis);
  return (
    <span ref={ref} className="block w-full" style={{ height: TALL }}>
      {width > 0 ? (
        <svg width={width} height={TALL} className="block" aria-hidden>
          {axis.away.map(([begin, end]) => (
            <rect
              key={begin}
              x={x(new Date(begin))}
              y="0"
              width={Math.max(x(new Date(end)) - x(new Date(begin)), 0)}
              height={TALL}
              fill="var(--night)"
            />
          ))}
          {days.map((day) => (
            <path key={+day.at} d={`M${x(day.at)} 0V${TALL}`} className="stroke-line" />
          ))}
          {clock.rows.flatMap((row) =>
            row.segments.map((segment) => {
              const left = x(new Date(segment.from_at));
              const wide = Math.max(x(new Date(segment.to_at)) - left, segment.state === "mix" ? 3 : 0);
              const isWindow = IS_WINDOW.has(segment.state);
              return wide > 0 ? (
                <rect
                  key={`${row.label}-${segment.from_at}-${segment.state}`}
                  x={left}
                  y="9"
                  width={wide}
                  height="16"
                  fill={FILLS[segment.state]}
                  stroke={isWindow ? "var(--spruce)" : "var(--ink)"}
                  strokeWidth={isWindow ? 1.5 : 0.6}
                >
                  <title>{`${row.label}, ${segment.label}: ${moment(segment.from_at, zone)} to ${moment(segment.to_at, zone)}`}</title>
                </rect>
              ) : null;
            }),
          )}
        </svg>
      ) : null}
    </span>
  );
}
