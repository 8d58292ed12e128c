/** A small dimensioned drawing of the shape being measured: which reading is which. */
import type { ReactNode } from "react";
import { Along, Beside, DimensionsContext, Down, plain } from "./dimensions";
import { fieldsOf, SHAPES, type ShapeKind, type SolidKind } from "../domain/shapes";

interface Props {
  kind: ShapeKind;
  points?: [number, number][] | undefined;
  holes?: [number, number][][] | undefined;
  /** Rows of a river or a profile [m]: [place or height, width or diameter, bottom width]. */
  rows?: [number, number][] | undefined;
  form?: string | undefined;
  outer?: SolidKind | undefined;
  inner?: SolidKind | undefined;
  marks?: Record<string, string>;
  /** large, with room round it for the fields that stand on its lines; their readings are not written again */
  large?: boolean;
  wrong?: ReadonlySet<string>;
}

/** What a large sketch shows [x, y, width, height], in the sketch's own units. */
export const LARGE = [-62, -28, 312, 156] as const;
const NONE: ReadonlySet<string> = new Set();

const FILL = { fill: "var(--liquid)", fillOpacity: 0.5 };

export function VoidSketch({
  kind,
  points,
  holes,
  rows,
  form,
  outer,
  inner,
  marks,
  large,
  wrong = NONE,
}: Props) {
  const label = (key: string) =>
    large
      ? ""
      : plain(marks?.[key]) || fieldsOf(kind, outer, inner).find((field) => field.key === key)?.mark || "";
  return (
    <svg
      viewBox={large ? LARGE.join(" ") : "-44 -8 270 112"}
      className={large ? "w-full h-full text-[8px]" : "w-full max-w-[280px] h-[108px] text-[12px]"}
      role="img"
      aria-label={`Drawing of a ${SHAPES[kind].name} with its dimensions`}
      fill="none"
      strokeWidth={large ? 0.8 : 1.2}
    >
      <DimensionsContext value={{ label, wrong }}>
        <g className="stroke-ink">{BODIES[kind]({ points, holes, rows, form, outer, inner })}</g>
        {DIMENSIONS[kind]}
      </DimensionsContext>
    </svg>
  );
}

/** The outline alone, for choosing among shapes. */
export function Silhouette({ kind }: { kind: ShapeKind }) {
  return (
    <svg
      viewBox="20 0 184 96"
      width="50"
      height="27"
      aria-hidden
      fill="none"
      strokeWidth="3"
      className="stroke-current"
    >
      {BODIES[kind]({})}
    </svg>
  );
}

type Drawn = Omit<Props, "kind" | "marks" | "large" | "wrong">;
const CUP = "M50 22L70 76A30 8 0 0 0 130 76L150 22M50 22A50 9 0 0 0 150 22A50 9 0 0 0 50 22";

const BODIES: Record<ShapeKind, (drawn: Drawn) => ReactNode> = {
  box: () => <path d="M40 34H150V74H40ZM40 34L72 14H182L150 34ZM150 34L182 14V54L150 74Z" {...FILL} />,
  tapered: () => (
    <path d="M36 30H156L128 74H64ZM36 30L64 12H188L156 30ZM156 30L188 12L162 52L128 74Z" {...FILL} />
  ),
  cylinder: () => (
    <path d="M60 22V74A40 10 0 0 0 140 74V22M60 22A40 10 0 0 0 140 22A40 10 0 0 0 60 22" {...FILL} />
  ),
  cone: () => <path d={CUP} {...FILL} />,
  bowl: () => (
    <path d="M40 24C44 70 76 80 100 80S156 70 160 24ZM40 24A60 7 0 0 0 160 24A60 7 0 0 0 40 24" {...FILL} />
  ),
  profile: ({ rows }) => <path d={profilePath(rows)} {...FILL} />,
  crack: ({ form }) => (
    <path
      d={
        form === "straight"
          ? "M78 20H122V84H78Z"
          : form === "round"
            ? "M74 20H126C124 66 108 84 100 84S76 66 74 20Z"
            : "M70 20H130L100 86Z"
      }
      {...FILL}
    />
  ),
  river: ({ rows }) => <path d={riverPath(rows)} {...FILL} />,
  outline: ({ points, holes }) =>
    points && points.length > 2 ? (
      <path d={ringsPath([points, ...(holes ?? [])])} fillRule="evenodd" {...FILL} />
    ) : (
      <path d="M30 60C40 20 90 12 120 24S196 30 186 56S90 80 30 60Z" strokeDasharray="4 3" {...FILL} />
    ),
  nested: ({ outer, inner }) => (
    <g>
      <path d={sidePath(outer, 30, 170, 16, 84)} {...FILL} />
      <path d={sidePath(inner, 62, 138, 6, 68)} fill="var(--paper)" />
    </g>
  ),
  "fill test": () => (
    <g>
      <path d="M60 34C60 70 66 82 100 82S140 70 140 34" {...FILL} />
      <path d="M96 4l8 0l-3 12a3.500 5 0 1 1-2 0Z" fill="var(--paper)" />
    </g>
  ),
  stated: () => (
    <g>
      <path d="M50 30H150V80H50Z" strokeDasharray="5 3" {...FILL} />
    </g>
  ),
  mesh: () => (
    <path
      d="M40 66L76 24L132 18L170 52L138 84L78 86ZM40 66L104 52L170 52M76 24L104 52L132 18M104 52L78 86M104 52L138 84"
      {...FILL}
    />
  ),
};

const DIMENSIONS: Partial<Record<ShapeKind, ReactNode>> = {
  box: (
    <>
      <Along of="length_m" x1={40} x2={150} y={90} />
      <Beside of="width_m" x={178} y={72} />
      <Down of="depth_m" x={28} y1={34} y2={74} />
    </>
  ),
  tapered: (
    <>
      <Along of="length_m" x1={64} x2={188} y={6} up />
      <Beside of="width_m" x={180} y={36} />
      <Along of="bottom_length_m" x1={64} x2={128} y={90} />
      <Beside of="bottom_width_m" x={150} y={74} />
      <Down of="depth_m" x={26} y1={30} y2={74} />
    </>
  ),
  cylinder: (
    <>
      <Along of="diameter_m" x1={60} x2={140} y={92} />
      <Down of="depth_m" x={30} y1={22} y2={78} />
    </>
  ),
  cone: (
    <>
      <Along of="top_diameter_m" x1={50} x2={150} y={8} up />
      <Along of="bottom_diameter_m" x1={70} x2={130} y={92} />
      <Down of="depth_m" x={30} y1={22} y2={78} />
    </>
  ),
  bowl: (
    <>
      <Along of="rim_diameter_m" x1={40} x2={160} y={12} up />
      <Down of="depth_m" x={30} y1={22} y2={78} />
    </>
  ),
  crack: (
    <>
      <Along of="width_m" x1={70} x2={130} y={12} up />
      <Down of="depth_m" x={50} y1={20} y2={86} />
      <Beside of="length_m" x={146} y={60} after=" long" />
    </>
  ),
  river: <Beside of="depth_m" x={6} y={98} after=" deep, seen from above" />,
  outline: <Beside of="depth_m" x={6} y={90} after=" deep, seen from above" />,
  nested: (
    <>
      <Down of="outer.depth_m" x={18} y1={16} y2={84} />
      <Down of="" x={182} y1={68} y2={84} />
      <Beside of="inner_from_m" x={188} y={80} />
    </>
  ),
  "fill test": (
    <>
      <Down of="depth_m" x={40} y1={34} y2={82} />
      <Beside of="mass_kg" x={150} y={60} />
    </>
  ),
  stated: (
    <>
      <Down of="depth_m" x={38} y1={30} y2={80} />
      <Beside of="volume_m3" x={158} y={60} />
    </>
  ),
};

function sidePath(
  solid: SolidKind = "cylinder",
  left: number,
  right: number,
  top: number,
  bottom: number,
): string {
  const lean = solid === "cone" || solid === "tapered" ? (right - left) * 0.12 : 0;
  if (solid === "bowl") return `M${left} ${top}C${left} ${bottom} ${right} ${bottom} ${right} ${top}Z`;
  return `M${left} ${top}H${right}L${right - lean} ${bottom}H${left + lean}Z`;
}

function profilePath(rows?: [number, number][]): string {
  const known: [number, number][] =
    rows && rows.length > 1
      ? rows
      : [
          [0, 40],
          [20, 64],
          [60, 50],
          [90, 80],
        ];
  const top = Math.max(...known.map((row) => row[0])) || 1;
  const wide = Math.max(...known.map((row) => row[1])) || 1;
  const scale = Math.min(72 / top, 170 / wide);
  const side = known.map(([h, d]): [number, number] => [(d / 2) * scale, 86 - h * scale]);
  return `M${[...side.map(([x, y]) => `${100 - x} ${y}`), ...side.toReversed().map(([x, y]) => `${100 + x} ${y}`)].join("L")}Z`;
}

function riverPath(rows?: [number, number][]): string {
  const known: [number, number][] =
    rows && rows.length > 1
      ? rows
      : [
          [0, 30],
          [40, 44],
          [80, 36],
          [120, 52],
          [160, 40],
        ];
  const far = known.at(-1)![0] - known[0]![0] || 1;
  const wide = Math.max(...known.map((row) => row[1])) || 1;
  const x = (place: number) => 10 + ((place - known[0]![0]) / far) * 190;
  const half = (width: number) => (width / wide) * 34;
  const tops = known.map(([place, width]) => `${x(place).toFixed(1)} ${(46 - half(width)).toFixed(1)}`);
  const lows = known
    .toReversed()
    .map(([place, width]) => `${x(place).toFixed(1)} ${(46 + half(width)).toFixed(1)}`);
  const ticks = known
    .map(
      ([place, width]) =>
        `M${x(place).toFixed(1)} ${(46 - half(width)).toFixed(1)}V${(46 + half(width)).toFixed(1)}`,
    )
    .join("");
  return `M${[...tops, ...lows].join("L")}Z${ticks}`;
}

/** Rings [m] fitted into the sketch, the first deciding the scale. */
function ringsPath(rings: [number, number][][]): string {
  const xs = rings[0]!.map((point) => point[0]);
  const ys = rings[0]!.map((point) => point[1]);
  const [left, right, low, high] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const scale = Math.min(200 / Math.max(right - left, 1e-9), 70 / Math.max(high - low, 1e-9));
  const place = ([px, py]: [number, number]) =>
    `${(110 + (px - (left + right) / 2) * scale).toFixed(1)} ${(40 - (py - (low + high) / 2) * scale).toFixed(1)}`;
  return rings.map((ring) => `M${ring.map(place).join("L")}Z`).join("");
}
