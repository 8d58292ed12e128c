/** What may lie on the bench: its name, its small drawing, and where its measures stand on the large one. */
import type { Schemas } from "../../api/client";

export type FirstLook = Schemas["FirstLook"];
export type FirstAnswer = Schemas["FirstAnswer"];
export type Bench = FirstLook["bench"];

/** Place of a field on the drawing, as shares of its width and height: the middle of the field. */
export type Places = Record<string, [x: number, y: number]>;

export const BENCHES: { bench: Bench; mark: string; places: Places }[] = [
  {
    bench: "picture or panel",
    mark: "M10 14H54V40H10ZM10 10H54",
    places: { length: [0.42, 0.93], width: [0.08, 0.46], thickness: [0.86, 0.82] },
  },
  {
    bench: "table or board",
    mark: "M6 18H58V26H6ZM16 26V42M48 26V42",
    places: { length: [0.42, 0.93], width: [0.08, 0.46], thickness: [0.86, 0.82] },
  },
  {
    bench: "cup on a rotator",
    mark: "M20 8H44L40 42H24ZM6 24H22M42 24H58",
    places: { top: [0.4, 0.07], bottom: [0.4, 0.93], height: [0.12, 0.5], band: [0.74, 0.22] },
  },
  {
    bench: "mould",
    mark: "M8 12H22V34H42V12H56V44H8Z",
    places: { diameter: [0.4, 0.08], depth: [0.76, 0.46], count: [0.76, 0.8] },
  },
  {
    bench: "block or form",
    mark: "M10 10V42H54V10M10 22H54",
    places: { length: [0.36, 0.945], width: [0.8, 0.3], depth: [0.08, 0.62] },
  },
  {
    bench: "river or crack",
    mark: "M8 8H26C20 20 32 26 26 44H8ZM56 8H40C34 20 46 28 40 44H56Z",
    places: {
      length: [0.42, 0.06],
      "width-1": [0.14, 0.93],
      "width-2": [0.42, 0.93],
      "width-3": [0.7, 0.93],
      depth: [0.89, 0.5],
    },
  },
  {
    bench: "carved pocket",
    mark: "M6 12H16V28H26V12H38V28H48V12H58V44H6Z",
    places: { length: [0.36, 0.945], width: [0.08, 0.46], depth: [0.84, 0.46], count: [0.84, 0.82] },
  },
];

export const placesOf = (bench: Bench): Places => BENCHES.find((one) => one.bench === bench)!.places;
