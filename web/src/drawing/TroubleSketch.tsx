/** Own small drawings of what goes wrong, as a cut through the piece or a look at it: recognised before
 *  they are read. */
import type { ReactNode } from "react";

const HOLLOW = "M8 14v34a4 4 0 0 0 4 4h72a4 4 0 0 0 4-4V14";
const Resin = ({
  d = "M8.500 22h79v26a4 4 0 0 1-4 4H12.500a4 4 0 0 1-4-4z",
  className = "fill-amber",
}: {
  d?: string;
  className?: string;
}) => <path d={d} className={className} opacity="0.4" />;
const Cut = ({ children }: { children?: ReactNode }) => (
  <>
    <Resin />
    {children}
    <path d={HOLLOW} fill="none" className="stroke-ink" strokeWidth="2" />
  </>
);
const ring = (x: number, y: number, r: number) => (
  <circle key={`${x}${y}`} cx={x} cy={y} r={r} fill="none" className="stroke-ink" strokeWidth="1.3" />
);
const dots = (points: [number, number][], r = 1.6) =>
  points.map(([x, y]) => <circle key={`${x}${y}`} cx={x} cy={y} r={r} className="fill-ink" />);

const PICTURES: Record<string, ReactNode> = {
  soft: (
    <Cut>
      <path
        d="M46 4v14c0 6-5 7-5 12M46 18c0 6 6 7 6 12"
        fill="none"
        className="stroke-ink"
        strokeWidth="3"
        strokeLinecap="round"
      />
      <path d="M36 22c4 10 18 10 22 0" fill="none" className="stroke-ink" strokeWidth="1.300" />
    </Cut>
  ),
  bubbles: (
    <Cut>
      {[
        ring(20, 44, 3),
        ring(32, 36, 2),
        ring(43, 46, 4),
        ring(56, 33, 2.5),
        ring(66, 43, 3),
        ring(77, 30, 2),
        ring(27, 28, 1.8),
        ring(50, 26, 1.6),
      ]}
    </Cut>
  ),
  milky: (
    <Cut>
      <path
        d="M14 30c8-6 14 4 22-2s14 4 22-2 14 4 22-2v20H14z"
        className="fill-paper stroke-slate"
        opacity="0.85"
      />
    </Cut>
  ),
  fisheyes: (
    <>
      <rect
        x="8"
        y="14"
        width="80"
        height="38"
        className="fill-amber stroke-ink"
        fillOpacity="0.4"
        strokeWidth="2"
      />
      {(
        [
          [24, 28, 6],
          [50, 38, 8],
          [74, 26, 5],
        ] as const
      ).map(([x, y, r]) => (
        <g key={x}>
          <circle cx={x} cy={y} r={r} className="fill-paper stroke-ink" strokeWidth="1.300" />
          <circle cx={x} cy={y} r={r / 3} className="fill-ink" />
        </g>
      ))}
    </>
  ),
  boiled: (
    <Cut>
      <path
        d="M48 50l-6-10 8-4-5-10M50 36l10 6M42 40l-10 2"
        fill="none"
        className="stroke-ink"
        strokeWidth="1.600"
      />
      <path
        d="M36 12c-4-4 4-5 0-10M48 12c-4-4 4-5 0-10M60 12c-4-4 4-5 0-10"
        fill="none"
        className="stroke-rust"
        strokeWidth="1.800"
      />
    </Cut>
  ),
  line: (
    <Cut>
      <path d="M9 38h78" className="stroke-ink" strokeWidth="2.500" strokeDasharray="9 3" />
    </Cut>
  ),
  pulled: (
    <>
      <Resin d="M16 22h64v24a4 4 0 0 1-4 4H20a4 4 0 0 1-4-4z" />
      <path d="M16 22v26M80 22v26" className="stroke-ink" strokeWidth="1.300" />
      <path d={HOLLOW} fill="none" className="stroke-ink" strokeWidth="2" />
    </>
  ),
  floated: (
    <Cut>
      <ellipse cx="48" cy="20" rx="15" ry="5" className="fill-paper stroke-ink" strokeWidth="1.600" />
      <path d="M48 44V30m-4 5l4-6 4 6" fill="none" className="stroke-rust" strokeWidth="1.800" />
    </Cut>
  ),
  ran: (
    <Cut>
      <path
        d="M88 22c6 0 4 14 4 22m-3-2l3 5 3-5M12 52v5"
        fill="none"
        className="stroke-rust"
        strokeWidth="1.800"
      />
      <path d="M12 58c-2 3 4 3 2 0z" className="fill-amber stroke-ink" />
    </Cut>
  ),
  colours: (
    <>
      <path d="M8.500 22h79v26a4 4 0 0 1-4 4H12.500a4 4 0 0 1-4-4z" className="fill-spruce" opacity="0.35" />
      <path
        d="M9 34c14-10 22 10 38 0s24 8 40-2v16a4 4 0 0 1-4 4H12a4 4 0 0 1-3-4z"
        className="fill-rust"
        opacity="0.4"
      />
      <path d={HOLLOW} fill="none" className="stroke-ink" strokeWidth="2" />
    </>
  ),
  low: (
    <>
      <Resin d="M8.500 34c10-4 16 5 26 0s14 6 26 1 18 2 27 0v13a4 4 0 0 1-4 4H12.500a4 4 0 0 1-4-4z" />
      <path d="M8 16h80" className="stroke-slate" strokeDasharray="3 3" />
      <path d="M8.500 34c10-4 16 5 26 0s14 6 26 1 18 2 27 0" fill="none" className="stroke-ink" />
      <path d={HOLLOW} fill="none" className="stroke-ink" strokeWidth="2" />
    </>
  ),
  dust: (
    <Cut>
      {dots([
        [18, 21],
        [30, 22],
        [41, 21],
        [58, 22],
        [70, 21],
        [80, 22],
      ])}
      <path d="M46 20c8-14 14 4 22-6" fill="none" className="stroke-ink" strokeWidth="1.300" />
    </Cut>
  ),
  drips: (
    <>
      <rect
        x="8"
        y="16"
        width="80"
        height="14"
        className="fill-amber stroke-ink"
        fillOpacity="0.4"
        strokeWidth="2"
      />
      {(
        [
          [20, 10],
          [44, 16],
          [70, 7],
        ] as const
      ).map(([x, l]) => (
        <path
          key={x}
          d={`M${x - 4} 31c0 ${l} 1 ${l + 4} 4 ${l + 4}s4-4 4-${l + 4}`}
          className="fill-amber stroke-ink"
          strokeWidth="1.300"
        />
      ))}
    </>
  ),
  scorch: (
    <>
      <rect
        x="8"
        y="14"
        width="80"
        height="38"
        className="fill-amber stroke-ink"
        fillOpacity="0.4"
        strokeWidth="2"
      />
      <circle cx="48" cy="33" r="12" className="fill-rust" opacity="0.75" />
      <circle cx="48" cy="33" r="6" className="fill-ink" opacity="0.8" />
    </>
  ),
  dents: (
    <>
      <Resin d="M8.500 22h26c3 9 13 9 16 0h12c2 5 8 5 10 0h15v26a4 4 0 0 1-4 4H12.500a4 4 0 0 1-4-4z" />
      <path
        d="M8 22h26c3 9 13 9 16 0h12c2 5 8 5 10 0h16"
        fill="none"
        className="stroke-ink"
        strokeWidth="1.500"
      />
      <path d={HOLLOW} fill="none" className="stroke-ink" strokeWidth="2" />
    </>
  ),
  glitter: (
    <Cut>
      {(
        [
          [16, 48],
          [24, 46],
          [33, 49],
          [42, 47],
          [52, 49],
          [61, 46],
          [70, 49],
          [79, 47],
          [28, 24],
          [58, 25],
          [74, 24],
        ] as const
      ).map(([x, y]) => (
        <path key={`${x}${y}`} d={`M${x - 2} ${y}l2-3 2 3-2 3z`} className="fill-ink" />
      ))}
    </Cut>
  ),
};

export function TroubleSketch({ code }: { code: string }) {
  return (
    <svg width="96" height="62" viewBox="0 0 96 62" aria-hidden="true" className="block">
      {PICTURES[code]}
    </svg>
  );
}
