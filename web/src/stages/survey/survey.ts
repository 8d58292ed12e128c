/** Names and first values of what the survey asks for. */
import type { Piece } from "../../api/queries";

export type Survey = NonNullable<Piece["survey"]>;
export type Defect = NonNullable<Survey["defects"]>[number];

export const EMPTY_SURVEY: Survey = {
  material: "not said",
  grain: "not said",
  finish: "not said",
  length_m: null,
  width_m: null,
  thickness_m: null,
  is_flat: null,
  moisture: null,
  kept_in: null,
  surface_c: null,
  found: [],
  defects: [],
  done: [],
  air_school: "still air",
  underside_school: "tape",
};

export const MATERIALS: NonNullable<Survey["material"]>[] = [
  "not said",
  "ash",
  "beech",
  "cherry",
  "chestnut",
  "larch",
  "maple",
  "oak",
  "pine",
  "walnut",
  "other wood",
  "board",
  "cloth on board",
  "canvas",
  "paper",
  "print or photograph",
  "foam board",
  "decal or vinyl",
  "cloth",
  "stone",
  "concrete",
  "metal",
  "metal tumbler",
  "glass",
  "cured resin",
];
export const GRAINS: [NonNullable<Survey["grain"]>, string][] = [
  ["not said", "not said"],
  ["not porous", "not porous"],
  ["dense", "dense, closed"],
  ["open", "open-pored"],
  ["end or punky", "end grain or punky"],
];
export const FINISHES: NonNullable<Survey["finish"]>[] = [
  "not said",
  "bare",
  "sealed",
  "oiled or waxed",
  "varnished or painted",
  "fresh acrylic paint",
  "ink",
];
export const FOUND: NonNullable<Survey["found"]> = [
  "silicone",
  "skin grease",
  "polish",
  "washed with water",
  "dust in crevices",
  "loose bark",
];
export const DEFECTS: Defect["kind"][] = ["crack", "knot", "worm hole", "bark", "punky patch", "other"];
export const TREATS: [NonNullable<Defect["treat"]>, string][] = [
  ["note", "only noted"],
  ["void", "a void"],
  ["patch", "a patch"],
];

/** A place or a size set by pointing. Sizes nobody typed yet are typical, and shown so. */
export function metres(
  value: number,
  origin: "measured" | "typical" = "measured",
): { value: number; as_typed: string; origin: "measured" | "typical" } {
  const mm = Number((value * 1000).toFixed(1));
  return { value: mm / 1000, as_typed: `${mm} mm`, origin };
}
