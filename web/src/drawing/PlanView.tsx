/** What is filled or covered, from above and to scale: rivers, outlines, discs and boards. */
import type { Piece } from "../api/queries";
import { text } from "../domain/format";
import { useUnits } from "../ui/session";
import { useWidth } from "./useWidth";

type Shape = NonNullable<Piece["voids"]>[number]["shape"];
type Surface = NonNullable<Piece["coats"]>[number]["surface"];
type Ring = [x: number, y: number][];

const TALL = 118;
const EDGE = 6;
const CIRCLE = 72; // corners of a drawn circle

function circle(diameter: number, x = 0, y = 0): Ring {
  return Array.from({ length: CIRCLE }, (_, step) => {
    const turn = (2 * Math.PI * step) / CIRCLE;
    return [x + (diameter / 2) * Math.cos(turn), y + (diameter / 2) * Math.sin(turn)];
  });
}

/** A board whose ends may be half circles across its width. */
function board(length: number, width: number, roundEnds: number): Ring {
  const end = (x: number, turned: number): Ring =>
    Array.from({ length: 25 }, (_, step) => {
      const turn = -Math.PI / 2 + (Math.PI * step) / 24;
      return [x + turned * (width / 2) * Math.cos(turn), turned * (width / 2) * Math.sin(turn)];
    });
  const right: Ring =
    roundEnds > 0
      ? end(length - width / 2, 1)
      : [
          [length, -width / 2],
          [length, width / 2],
        ];
  const left: Ring =
    roundEnds > 1
      ? end(width / 2, -1)
      : [
          [0, width / 2],
          [0, -width / 2],
        ];
  return [...right, ...left];
}

const rectangle = (length: number, width: number): Ring => [
  [0, 0],
  [length, 0],
  [length, width],
  [0, width],
];

/** Of shapes that a section tells alone, unless several stand beside each other. */
function plainRing(shape: Shape | Surface): Ring | null {
  switch (shape.kind) {
    case "box":
    case "tapered":
      return rectangle(shape.length_m.value, shape.width_m.value);
    case "cylinder":
      return circle(shape.diameter_m.value);
    case "cone":
      return circle(shape.top_diameter_m.value);
    case "bowl":
      return circle(shape.rim_diameter_m.value);
    default:
      return null;
  }
}

/** Rings [m], the outermost first; null: nothing that would be told by a view from above. */
export function ringsOf(shape: Shape | Surface): Ring[] | null {
  if (shape.kind === "river" || shape.kind === "stations") {
    const rows = shape.stations.map((one): [number, number] => [one.at_m.value, one.width_m.value / 2]);
    return [[...rows, ...rows.toReversed().map(([x, half]): [number, number] => [x, -half])]];
  }
  if (shape.kind === "outline") return [shape.points_m as Ring, ...((shape.holes_m ?? []) as Ring[])];
  if (shape.kind === "drawn") return [shape.points_m as Ring, ...((shape.holes_m ?? []) as Ring[])];
  if (shape.kind === "disc") return [circle(shape.diameter_m.value)];
  if (shape.kind === "board")
    return [board(shape.length_m.value, shape.width_m.value, shape.round_ends ?? 0)];
  return null;
}

interface Props {
  shape: Shape | Surface;
  tint: string;
  /** how many alike stand beside each other, and how far apart [m], wall to wall, where that was said */
  count?: number;
  apart?: number | undefined;
}

const MOST_IN_A_ROW = 6;
const MOST_DRAWN = 12;

/** Corner of each of those alike [m], in rows; drawn a tenth apart where nobody said how far. */
function places(count: number, long: number, wide: number, apart: number | undefined): Ring {
  const drawn = Math.min(count, MOST_DRAWN);
  const row = Math.min(drawn, MOST_IN_A_ROW);
  const gap = apart ?? 0.1 * Math.max(long, wide);
  return Array.from({ length: drawn }, (_, index): [number, number] => [
    (index % row) * (long + gap),
    Math.floor(index / row) * (wide + gap),
  ]);
}

export function PlanView({ shape, tint, count = 1, apart }: Props) {
  const [ref, shown] = useWidth<HTMLElement>();
  const { units } = useUnits();
  const plain = count > 1 ? plainRing(shape) : null;
  const rings = ringsOf(shape) ?? (plain ? [plain] : null);
  if (!rings?.[0]?.length) return null;
  const xs = rings[0].map((point) => point[0]);
  const ys = rings[0].map((point) => point[1]);
  const [left, low] = [Math.min(...xs), Math.min(...ys)];
  const [long, wide] = [Math.max(...xs) - left, Math.max(...ys) - low];
  const at = places(count, long, wide, apart);
  const [allLong, allWide] = [
    Math.max(...at.map((one) => one[0])) + long,
    Math.max(...at.map((one) => one[1])) + wide,
  ];
  const width = Math.min(shown, 460);
  const scale = Math.min((width - 2 * EDGE) / allLong, (TALL - 2 * EDGE) / allWide);
  const path = ([dx, dy]: [number, number]) =>
    rings
      .map(
        (ring) =>
          `M${ring.map(([x, y]) => `${(EDGE + (dx + x - left) * scale).toFixed(1)} ${(EDGE + (dy + low + wide - y) * scale).toFixed(1)}`).join("L")}Z`,
      )
      .join("");
  const size = `${text(long, "length", units)} × ${text(wide, "length", units)}`;
  const alike =
    count > 1
      ? `; ${count} alike, ${apart === undefined ? "how far apart is not entered" : `${text(apart, "length", units)} apart`}${count > MOST_DRAWN ? `, ${MOST_DRAWN} of them drawn` : ""}`
      : "";
  return (
    <figure ref={ref} className="w-full">
      {width > 0 ? (
        <svg
          width={width}
          height={allWide * scale + 2 * EDGE}
          className="block"
          role="img"
          aria-label={`From above, ${size}${alike}`}
        >
          {at.map((one) => (
            <path
              key={one.join(" ")}
              d={path(one)}
              fillRule="evenodd"
              fill={tint}
              fillOpacity="0.6"
              className="stroke-ink"
              strokeWidth="1.2"
            />
          ))}
        </svg>
      ) : null}
      <figcaption className="text-[13px] text-slate">
        From above, to scale: {size}
        {alike}.
      </figcaption>
    </figure>
  );
}
