/** A small dimensioned drawing of what is coated. */
import { SURFACES, type Surface } from "../domain/surfaces";
import { Along, Down, plain } from "./VoidSketch";

export function CoatSketch({ surface }: { surface: Partial<Surface> & { kind?: Surface["kind"] } }) {
  const kind = surface.kind ?? "board";
  const values = surface as Record<string, { as_typed?: string } | number | undefined>;
  const label = (key: string) =>
    plain((values[key] as { as_typed?: string } | undefined)?.as_typed) ||
    SURFACES[kind].fields.find((field) => field.key === key)?.mark ||
    "";
  const fill = { fill: "var(--liquid)", fillOpacity: 0.6 };
  const round = Number(values.round_ends ?? 0);
  return (
    <svg
      viewBox="-44 -8 270 112"
      className="w-full max-w-[280px] h-[108px] text-[12px]"
      role="img"
      aria-label={`Drawing of a ${SURFACES[kind].name} with its dimensions`}
      fill="none"
      strokeWidth="1.2"
    >
      <g className="stroke-ink">
        {kind === "board" ? (
          <path
            d={`M${round > 1 ? "50 20A26 26 0 0 0 50 72" : "24 20V72"}H${round > 0 ? 150 : 176}${round > 0 ? "A26 26 0 0 0 150 20" : "V20"}Z`}
            {...fill}
          />
        ) : null}
        {kind === "disc" ? <circle cx="100" cy="46" r="38" {...fill} /> : null}
        {kind === "drawn" ? (
          <path d="M30 56C40 20 90 12 120 24S196 30 186 56S90 80 30 56Z" {...fill} />
        ) : null}
        {kind === "cup" ? (
          <path
            d="M60 14L72 78A28 7 0 0 0 128 78L140 14M60 14A40 8 0 0 0 140 14A40 8 0 0 0 60 14"
            {...fill}
          />
        ) : null}
        {kind === "area" ? <path d="M30 20H170V76H30Z" strokeDasharray="5 3" {...fill} /> : null}
      </g>
      {kind === "board" ? (
        <>
          <Along x1={24} x2={176} y={90} text={label("length_m")} />
          <Down x={14} y1={20} y2={72} text={label("width_m")} />
          <text x="100" y="50" textAnchor="middle" className="fill-slate!">
            {label("thickness_m")} thick
          </text>
        </>
      ) : null}
      {kind === "disc" ? <Along x1={62} x2={138} y={98} text={label("diameter_m")} /> : null}
      {kind === "cup" ? (
        <>
          <Along x1={60} x2={140} y={4} text="" up />
          <text x="150" y="14">
            {label("top_diameter_m")}
          </text>
          <Along x1={72} x2={128} y={98} text={label("bottom_diameter_m")} />
          <Down x={50} y1={14} y2={80} text={label("height_m")} />
        </>
      ) : null}
      {kind === "area" ? (
        <text x="100" y="52" textAnchor="middle">
          {label("area_m2")}
        </text>
      ) : null}
    </svg>
  );
}
