/** A small dimensioned drawing of what is coated. */
import { SURFACES, type Surface } from "../domain/surfaces";
import { Along, Beside, DimensionsContext, Down, plain } from "./dimensions";
import { LARGE } from "./VoidSketch";

interface Props {
  surface: Partial<Surface> & { kind?: Surface["kind"] };
  /** large, with room round it for the fields that stand on its lines */
  large?: boolean;
  wrong?: ReadonlySet<string>;
}

const NONE: ReadonlySet<string> = new Set();

export function CoatSketch({ surface, large, wrong = NONE }: Props) {
  const kind = surface.kind ?? "board";
  const values = surface as Record<string, { as_typed?: string } | number | undefined>;
  const label = (key: string) =>
    large
      ? ""
      : plain((values[key] as { as_typed?: string } | undefined)?.as_typed) ||
        SURFACES[kind].fields.find((field) => field.key === key)?.mark ||
        "";
  const fill = { fill: "var(--liquid)", fillOpacity: 0.6 };
  const round = Number(values.round_ends ?? 0);
  return (
    <svg
      viewBox={large ? LARGE.join(" ") : "-44 -8 270 112"}
      className={large ? "w-full h-full text-[8px]" : "w-full max-w-[280px] h-[108px] text-[12px]"}
      role="img"
      aria-label={`Drawing of a ${SURFACES[kind].name} with its dimensions`}
      fill="none"
      strokeWidth={large ? 0.8 : 1.2}
    >
      <g className="stroke-ink">
        {kind === "board" ? (
          <path
            d={`M${round > 1 ? "50 20A26 26 0 0 0 50 72" : "24 20V72"}H${round > 0 ? 150 : 176}${round > 0 ? "A26 26 0 0 0 150 20" : "V20"}Z`}
            {...fill}
          />
        ) : null}
        {kind === "disc" ? <circle cx="100" cy="46" r="38" {...fill} /> : null}
        {kind === "stations" ? (
          <>
            <path d="M24 30C60 14 90 34 126 22S164 20 176 26V68C150 80 120 66 84 76S40 70 24 74Z" {...fill} />
            <path d="M62 22V74M100 29V71M138 20V70" strokeDasharray="3 3" />
          </>
        ) : null}
        {kind === "mesh" ? (
          <path
            d="M40 66L70 26L122 18L160 44L140 78L78 80ZM70 26L78 80M122 18L140 78M70 26L140 78M160 44L78 80"
            {...fill}
          />
        ) : null}
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
      <DimensionsContext value={{ label, wrong }}>
        {kind === "board" ? (
          <>
            <Along of="length_m" x1={24} x2={176} y={90} />
            <Down of="width_m" x={14} y1={20} y2={72} />
            <Beside of="thickness_m" x={70} y={50} after=" thick" />
          </>
        ) : null}
        {kind === "disc" ? (
          <>
            <Along of="diameter_m" x1={62} x2={138} y={98} />
            <Beside of="thickness_m" x={146} y={50} after=" thick" />
          </>
        ) : null}
        {kind === "stations" ? <Beside of="thickness_m" x={80} y={90} after=" thick" /> : null}
        {kind === "drawn" ? <Beside of="thickness_m" x={80} y={50} after=" thick" /> : null}
        {kind === "cup" ? (
          <>
            <Along of="top_diameter_m" x1={60} x2={140} y={4} up />
            <Along of="bottom_diameter_m" x1={72} x2={128} y={98} />
            <Down of="height_m" x={50} y1={14} y2={80} />
          </>
        ) : null}
        {kind === "area" ? <Beside of="area_m2" x={84} y={52} /> : null}
      </DimensionsContext>
    </svg>
  );
}
