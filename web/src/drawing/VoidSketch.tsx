/** A small dimensioned drawing of the shape being measured: which reading is which. */
import { SHAPES, type ShapeKind } from "../domain/shapes";

export function VoidSketch({ kind, points, marks }: { kind: ShapeKind; points?: [number, number][]; marks?: Record<string, string> }) {
  const label = (key: string) => marks?.[key] || SHAPES[kind].fields.find((field) => field.key === key)?.mark || "";
  return (
    <svg viewBox="-44 -8 270 112" className="w-full max-w-[280px] h-[108px] text-[12px]" role="img" aria-label={`Drawing of a ${SHAPES[kind].name} with its dimensions`} fill="none" strokeWidth="1.2">
      <g className="stroke-ink">{body(kind, points)}</g>
      {kind === "box" ? <><Along x1={40} x2={150} y={90} text={label("length_m")} /><text x="178" y="72">{label("width_m")}</text></> : null}
      {kind === "cylinder" ? <Along x1={60} x2={140} y={92} text={label("diameter_m")} /> : null}
      {kind === "cone" ? <><Along x1={50} x2={150} y={8} text={label("top_diameter_m")} up /><Along x1={70} x2={130} y={92} text={label("bottom_diameter_m")} /></> : null}
      {kind === "bowl" ? <Along x1={40} x2={160} y={12} text={label("rim_diameter_m")} up /> : null}
      {kind !== "outline" ? <Down x={kind === "box" ? 28 : 30} y1={kind === "box" ? 34 : 22} y2={kind === "box" ? 74 : 78} text={label("depth_m")} /> : <text x="6" y="90" className="fill-slate!">seen from above, × {label("depth_m")} deep</text>}
    </svg>
  );
}

function body(kind: ShapeKind, points?: [number, number][]) {
  switch (kind) {
    case "box":
      return <path d="M40 34H150V74H40ZM40 34L72 14H182L150 34M182 14V54L150 74" fill="var(--liquid)" fillOpacity="0.5" />;
    case "cylinder":
      return <path d="M60 22V74A40 10 0 0 0 140 74V22M60 22A40 10 0 0 0 140 22A40 10 0 0 0 60 22" fill="var(--liquid)" fillOpacity="0.5" />;
    case "cone":
      return <path d="M50 22L70 76A30 8 0 0 0 130 76L150 22M50 22A50 9 0 0 0 150 22A50 9 0 0 0 50 22" fill="var(--liquid)" fillOpacity="0.5" />;
    case "bowl":
      return <path d="M40 24C44 70 76 80 100 80S156 70 160 24ZM40 24A60 7 0 0 0 160 24A60 7 0 0 0 40 24" fill="var(--liquid)" fillOpacity="0.5" />;
    case "outline":
      return points && points.length > 2 ? <path d={outlinePath(points)} fill="var(--liquid)" fillOpacity="0.5" /> : <path d="M30 60C40 20 90 12 120 24S196 30 186 56S90 80 30 60Z" fill="var(--liquid)" fillOpacity="0.5" strokeDasharray="4 3" />;
  }
}

function outlinePath(points: [number, number][]): string {
  const xs = points.map((point) => point[0]);
  const ys = points.map((point) => point[1]);
  const [left, right, low, high] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const scale = Math.min(200 / Math.max(right - left, 1e-9), 70 / Math.max(high - low, 1e-9));
  const place = ([px, py]: [number, number]) => `${(110 + (px - (left + right) / 2) * scale).toFixed(1)} ${(40 - (py - (low + high) / 2) * scale).toFixed(1)}`;
  return `M${points.map(place).join("L")}Z`;
}

function Along({ x1, x2, y, text, up }: { x1: number; x2: number; y: number; text: string; up?: boolean }) {
  return <g><path d={`M${x1} ${y - 4}v${up ? 8 : 4}M${x1} ${y - (up ? 0 : 3)}H${x2}M${x2} ${y - 4}v${up ? 8 : 4}`} className="stroke-slate" /><text x={(x1 + x2) / 2} y={y - 6} textAnchor="middle" className="fill-ink">{text}</text></g>;
}

function Down({ x, y1, y2, text }: { x: number; y1: number; y2: number; text: string }) {
  return <g><path d={`M${x - 4} ${y1}h8M${x} ${y1}V${y2}M${x - 4} ${y2}h8`} className="stroke-slate" /><text x={x - 7} y={(y1 + y2) / 2 + 4} textAnchor="end">{text}</text></g>;
}
