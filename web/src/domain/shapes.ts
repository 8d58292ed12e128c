/** The kinds of hollow a person can measure: names, their readings in the order of measuring, and how to
 *  draw them small. */
import type { Void } from "../api/queries";

export type Shape = Void["shape"];
export type ShapeKind = NonNullable<Shape["kind"]>;
export type SolidKind = "box" | "tapered" | "cylinder" | "cone" | "bowl";

export interface ShapeField {
  /** Where it stands in the shape: "depth_m", or "outer.depth_m" in a nested one. */
  key: string;
  label: string;
  kind: string;
  mark: string;
  optional?: boolean | undefined;
  help?: string | undefined;
}

export interface ShapeChoice {
  key: string;
  label: string;
  options: [value: string, word: string][];
}

export interface ShapeForm {
  name: string;
  /** on its tile, where it is a part of the name */
  short?: string;
  /** When to take this one. */
  when: string;
  fields: ShapeField[];
  choices?: ShapeChoice[];
  /** Rows typed one reading a line. */
  rows?: { key: "stations" | "rows"; ask: "stations" | "profile"; help: string; like: string };
}

const length = (key: string, label: string, mark: string, optional = false): ShapeField => ({
  key,
  label,
  kind: "length",
  mark,
  optional,
});

export const SHAPES: Record<ShapeKind, ShapeForm> = {
  box: {
    name: "box",
    when: "straight walls, square corners",
    fields: [
      length("length_m", "length", "L"),
      length("width_m", "width", "W"),
      length("depth_m", "depth", "D"),
    ],
  },
  tapered: {
    name: "sloped walls or V groove",
    short: "sloped",
    when: "floor smaller or larger than the opening; width 0 below for a groove",
    fields: [
      length("length_m", "length at the rim", "L"),
      length("width_m", "width at the rim", "W"),
      length("bottom_length_m", "length at the bottom", "l"),
      length("bottom_width_m", "width at the bottom", "w"),
      length("depth_m", "depth", "D"),
    ],
  },
  cylinder: {
    name: "cylinder",
    when: "round, straight walls",
    fields: [length("diameter_m", "diameter", "⌀"), length("depth_m", "depth", "D")],
  },
  cone: {
    name: "cup or cone",
    short: "cup",
    when: "round, sloped walls",
    fields: [
      length("top_diameter_m", "diameter at the rim", "⌀"),
      length("bottom_diameter_m", "diameter at the bottom", "⌀b"),
      length("depth_m", "depth", "D"),
    ],
  },
  bowl: {
    name: "bowl",
    when: "part of a sphere",
    fields: [length("rim_diameter_m", "diameter at the rim", "⌀"), length("depth_m", "depth", "D")],
  },
  profile: {
    name: "turned profile",
    short: "profile",
    when: "round at every height, diameters read at some of them",
    fields: [],
    rows: {
      key: "rows",
      ask: "profile",
      help: "height from the bottom and diameter, one reading a line",
      like: "0 40\n20 64\n60 58\n90 80",
    },
  },
  crack: {
    name: "crack",
    when: "long and narrow, closing downwards",
    fields: [
      length("length_m", "length", "L"),
      length("width_m", "width at the face", "W"),
      length("depth_m", "depth", "D"),
    ],
    choices: [
      {
        key: "form",
        label: "closes",
        options: [
          ["v", "to a line (half the box)"],
          ["round", "to a rounded root (two thirds)"],
          ["straight", "not at all (the box)"],
        ],
      },
    ],
  },
  river: {
    name: "river",
    when: "between two natural edges, widths at stations",
    fields: [length("depth_m", "depth", "D")],
    rows: {
      key: "stations",
      ask: "stations",
      help: "place along it, width, and if the edges slope the width at the bottom; one station a line",
      like: "0 104\n115 118\n230 131 120\n345 127",
    },
  },
  outline: {
    name: "outline × depth",
    short: "outline",
    when: "any shape from above: typed, from SVG or DXF, or traced from a photo",
    fields: [
      length("depth_m", "depth", "D"),
      { key: "draft_deg", label: "draft, leaning in", kind: "angle", mark: "draft", optional: true },
    ],
  },
  nested: {
    name: "space between two shapes",
    short: "between",
    when: "an inner mould in an outer one, or a block form minus a body in it",
    fields: [],
  },
  "fill test": {
    name: "fill test",
    when: "filled once with water or dry grain and weighed; dry it again",
    fields: [
      { key: "mass_kg", label: "it took", kind: "mass", mark: "m", help: "what it weighed" },
      {
        key: "density_kg_m3",
        label: "density",
        kind: "density",
        mark: "ρ",
        help: "water 0.998 g/mL; grain: weigh a known volume first",
      },
      length("depth_m", "depth", "D"),
      { key: "opening_m2", label: "area of the opening", kind: "area", mark: "A", optional: true },
    ],
    choices: [
      {
        key: "filled_with",
        label: "filled with",
        options: [
          ["water", "water"],
          ["grain", "dry grain or sand"],
        ],
      },
    ],
  },
  stated: {
    name: "stated volume",
    short: "stated",
    when: "a pocket the machine reported, a jug, a drawing",
    fields: [
      { key: "volume_m3", label: "volume", kind: "volume", mark: "V" },
      length("depth_m", "depth", "D"),
      { key: "opening_m2", label: "area of the opening", kind: "area", mark: "A", optional: true },
    ],
  },
  mesh: { name: "mesh", when: "an STL, OBJ, PLY or 3MF file", fields: [] },
};

export const SOLIDS: SolidKind[] = ["box", "tapered", "cylinder", "cone", "bowl"];

/** The readings of a kind; of a nested one those of both its shapes. */
export function fieldsOf(
  kind: ShapeKind,
  outer: SolidKind = "cylinder",
  inner: SolidKind = "cylinder",
): ShapeField[] {
  if (kind !== "nested") return SHAPES[kind].fields;
  const of = (solid: SolidKind, side: "outer" | "inner") =>
    SHAPES[solid].fields.map((field) => ({
      ...field,
      key: `${side}.${field.key}`,
      label: `${side} ${field.label}`,
    }));
  return [
    ...of(outer, "outer"),
    ...of(inner, "inner"),
    length("inner_from_m", "underside of the inner over the floor", "gap"),
    {
      key: "inner_mass_kg",
      label: "the inner one weighs",
      kind: "mass",
      mark: "m",
      optional: true,
      help: "for how hard it floats up",
    },
  ];
}

/** Reads or writes a value at "outer.depth_m" or "depth_m" without changing what it is given. */
export function at(shape: unknown, key: string): unknown {
  return key
    .split(".")
    .reduce<unknown>((part, name) => (part as Record<string, unknown> | undefined)?.[name], shape);
}

export function withAt<T>(shape: T, key: string, value: unknown): T {
  const [head = "", ...rest] = key.split(".");
  const now = shape as Record<string, unknown>;
  return { ...now, [head]: rest.length ? withAt(now[head] ?? {}, rest.join("."), value) : value } as T;
}

export const WALLS = ["wood", "board", "silicone", "plastic", "metal", "glass", "other"] as const;

/** A short id that is free among the given ones. */
export function freshId(stem: string, taken: readonly string[]): string {
  let number = taken.length + 1;
  while (taken.includes(`${stem}-${number}`)) number += 1;
  return `${stem}-${number}`;
}
