import type { Piece, Void } from "../api/queries";
import type { ShapeKind } from "./shapes";
import type { Coat, SurfaceKind } from "./surfaces";

export type KindOfWork = NonNullable<Piece["kind_of_work"]>;
export const KINDS_OF_WORK: KindOfWork[] = [
  "deep pour",
  "block",
  "small castings",
  "crack or knot",
  "carved pockets",
  "pressure casting",
  "nested mould",
  "flood coat",
  "thin coat",
  "rotator",
  "painted top",
  "turned work",
  "oil or varnish",
  "other",
];

/** What a kind of work opens first when something is measured, and which fields it never needs (they stand under "more",
 *  unless something is typed in them). Common practice, no source. */
export interface KindForm {
  adds: "void" | "coat";
  shape: ShapeKind;
  surface: SurfaceKind;
  wall: NonNullable<Void["wall"]>;
  /** as it is typed in the field of the film */
  film: string;
  grain: NonNullable<Coat["grain"]>;
  seldom: ReadonlySet<Seldom>;
}
export type Seldom = "overfill" | "soak" | "form" | "inclusions" | "colours" | "run-off" | "there" | "turn";

const of = (shape: ShapeKind, wall: KindForm["wall"], ...seldom: Seldom[]): KindForm => ({
  adds: "void",
  shape,
  surface: "board",
  wall,
  film: "",
  grain: "open",
  seldom: new Set([...seldom, "there", ...(shape === "outline" ? [] : (["turn"] as const))]),
});
const coat = (surface: SurfaceKind, film: string, wall: KindForm["wall"], ...seldom: Seldom[]): KindForm => ({
  ...of("box", wall, ...seldom),
  adds: "coat",
  surface,
  film,
  grain: wall === "wood" ? "open" : "not porous",
});

const FORMS: Record<KindOfWork, KindForm> = {
  "deep pour": of("box", "board"),
  block: of("box", "board", "soak"),
  "small castings": of("cylinder", "silicone", "overfill", "soak", "form"),
  "crack or knot": of("crack", "wood", "form", "inclusions"),
  "carved pockets": of("outline", "wood", "form", "inclusions"),
  "pressure casting": of("box", "silicone", "overfill", "soak", "form"),
  "nested mould": of("nested", "silicone", "overfill", "soak", "form"),
  "flood coat": coat("board", "1.5 mm", "wood"),
  "thin coat": coat("board", "0.3 mm", "wood"),
  rotator: coat("cup", "0.4 mm", "metal", "soak"),
  "painted top": coat("board", "1.5 mm", "other", "soak"),
  "turned work": of("cylinder", "wood", "form"),
  "oil or varnish": of("box", "wood"),
  other: of("box", "board"),
};

export const formOf = (kind: Piece["kind_of_work"]): KindForm => FORMS[kind ?? "other"];
