/** What can be coated: names and readings in the order of measuring. */
import type { Piece } from "../api/queries";
import type { ShapeChoice, ShapeField } from "./shapes";

export type Coat = NonNullable<Piece["coats"]>[number];
export type Surface = Coat["surface"];
export type SurfaceKind = NonNullable<Surface["kind"]>;

const length = (key: string, label: string, mark: string, optional = false): ShapeField => ({
  key,
  label,
  kind: "length",
  mark,
  optional,
});

export const SURFACES: Record<SurfaceKind, { name: string; fields: ShapeField[]; choices?: ShapeChoice[] }> =
  {
    board: {
      name: "board or top",
      fields: [
        length("length_m", "length", "L"),
        length("width_m", "width", "W"),
        length("thickness_m", "thickness", "t"),
      ],
      choices: [
        {
          key: "round_ends",
          label: "round ends",
          options: [
            ["0", "none"],
            ["1", "one"],
            ["2", "both"],
          ],
        },
      ],
    },
    disc: {
      name: "disc",
      fields: [length("diameter_m", "diameter", "⌀"), length("thickness_m", "thickness", "t", true)],
    },
    stations: { name: "slab by stations", fields: [length("thickness_m", "thickness", "t", true)] },
    drawn: { name: "any outline", fields: [length("thickness_m", "thickness", "t", true)] },
    cup: {
      name: "cup or cylinder, outside",
      fields: [
        length("top_diameter_m", "diameter at the lip", "⌀"),
        length("bottom_diameter_m", "diameter at the foot", "⌀b"),
        length("height_m", "height", "H"),
        length("bare_band_m", "bare band at the lip", "band", true),
      ],
    },
    mesh: { name: "mesh", fields: [] },
    area: { name: "area known", fields: [{ key: "area_m2", label: "area", kind: "area", mark: "A" }] },
  };

/** What has an edge that resin can run over. */
export const hasEdges = (kind: SurfaceKind) => !["cup", "mesh", "area"].includes(kind);

export const EDGE_WAYS: Record<"all" | "none", [NonNullable<Coat["edge_way"]>, string][]> = {
  all: [
    ["not said", "runs over"],
    ["dam", "dammed"],
  ],
  none: [
    ["not said", "taped"],
    ["domed", "domed, no tape"],
    ["dam", "dammed"],
  ],
};
export const EDGE_FORMS: [NonNullable<Coat["edge_form"]>, string][] = [
  ["square", "square"],
  ["half-round", "half round"],
  ["bevelled", "bevelled, 45°"],
];
export const SPREADINGS: [NonNullable<Coat["laid_with"]>, string][] = [
  ["not said", "not said"],
  ["flat spreader", "a flat spreader"],
  ["notched spreader", "a notched spreader"],
  ["roller", "a roller"],
  ["hand", "a gloved hand"],
  ["brush", "a brush"],
];

export const COVERAGE_RULES = [
  "",
  "30 g per 1000 cm²",
  "1 fl oz per ft²",
  "60 g per 1000 cm²",
  "square inches / 70 = fl oz",
  "3 fl oz per ft²",
  "32 ft² per US gallon",
  "self-levels at 1/8 in",
] as const;
export const GRAINS: [NonNullable<Coat["grain"]>, string][] = [
  ["not porous", "not porous"],
  ["dense", "dense, closed"],
  ["open", "open-pored"],
  ["end or punky", "end grain or punky"],
];
