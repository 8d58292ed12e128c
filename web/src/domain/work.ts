import type { Piece } from "../api/queries";

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
  "other",
];
