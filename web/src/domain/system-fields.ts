/** The values of a resin system as sheets print them: in this order, by these names. true: may stay empty. */
import type { Schemas } from "../api/client";

export type System = Schemas["System"];
export type FieldRow = [keyof System, string, string, boolean?];

export const SECTIONS: [string, FieldRow[]][] = [
  [
    "Parts",
    [
      ["density_a_kg_m3", "density of A", "density"],
      ["density_b_kg_m3", "density of B", "density"],
      ["density_mix_kg_m3", "density of the mix, as stated", "density", true],
      ["density_at_c", "… all at", "temperature", true],
      ["viscosity_pa_s", "viscosity of the mix", "viscosity", true],
      ["viscosity_at_c", "… at", "temperature", true],
    ],
  ],
  [
    "Mixing",
    [
      ["stir_s", "stir", "duration"],
      ["stir_again_s", "again in a second cup", "duration", true],
      ["rest_s", "rest before pouring", "duration"],
      ["pump_a_kg", "one pump stroke of A", "mass", true],
      ["pump_b_kg", "one pump stroke of B", "mass", true],
    ],
  ],
  [
    "Colour and shrinkage",
    [
      ["colourant_most", "colourant at most, by weight", "fraction"],
      ["liquid_most", "of it liquid at most", "fraction", true],
      ["shrinkage", "shrinkage by volume", "fraction"],
    ],
  ],
  [
    "Room and pouring",
    [
      ["room_from_c", "room from", "temperature"],
      ["room_to_c", "room to", "temperature"],
      ["room_humidity_most", "humidity below", "fraction"],
      ["pour_from_c", "pour from", "temperature", true],
      ["pour_to_c", "pour up to", "temperature", true],
      ["pressure_from_pa", "pressure from, gauge", "pressure", true],
      ["pressure_to_pa", "pressure to, gauge", "pressure", true],
    ],
  ],
  [
    "Times after pouring",
    [
      ["times_at_c", "all times at", "temperature", true],
      ["times_depth_m", "… for a layer of", "length", true],
      ["tack_free_s", "tack-free after", "duration"],
      ["bond_from_s", "bond window opens", "duration"],
      ["bond_to_s", "bond window closes", "duration"],
      ["demould_s", "demould after", "duration"],
      ["touch_dry_s", "dry to the touch, where told apart", "duration", true],
      ["light_use_s", "light use after", "duration", true],
      ["chamber_s", "in the chamber at least", "duration", true],
      ["turning_s", "turned for", "duration", true],
      ["full_cure_s", "full cure", "duration"],
    ],
  ],
  [
    "Times at a second temperature",
    [
      ["other_at_c", "where the sheet gives them: at", "temperature", true],
      ["other_working_s", "the same batch can be worked for", "duration", true],
      ["other_demould_s", "demould after", "duration", true],
    ],
  ],
  [
    "Cured, and kept",
    [
      ["heat_resistance_c", "stands heat up to", "temperature", true],
      ["peak_wanted_c", "peak wanted at most", "temperature", true],
      ["peak_never_c", "peak never over", "temperature", true],
      ["heat_j_kg", "heat of reaction", "heat", true],
      ["shelf_life_s", "keeps, once opened", "duration", true],
    ],
  ],
];

const OTHERS: Partial<Record<keyof System, string>> = {
  basis: "ratio is by",
  ratio: "ratio A : B",
  ratio_other: "ratio on the other basis",
  first_part: "first into the cup",
  is_filled: "a part is filled",
  working_time: "working time",
  more_working: "more working times",
  other_at_c: "a second temperature",
  other_working_s: "working time at the second temperature",
  other_demould_s: "demould at the second temperature",
  depth_rules: "depth of a layer",
  least_depth_m: "least layer",
  name_a: "part A is called",
  name_b: "part B is called",
  needs_pressure: "needs a pressure chamber",
  cures_like: "cures like the class",
  hazards: "hazard statements",
  kits: "sold as",
  note: "note",
};

/** A value's name where it stands by itself: what hangs on the line above it is named with that. */
export function fieldName(field: string): string {
  const own = OTHERS[field as keyof System];
  if (own) return own;
  const rows = SECTIONS.flatMap(([, section]) => section);
  const at = rows.findIndex(([key]) => key === field);
  if (at < 0) return field;
  const name = rows[at]![1];
  return name.startsWith("…") ? `${rows[at - 1]![1]}, ${name.slice(2)}` : name;
}

/** The value that a line of a sheet became, by the name that read_from has for it. */
function readingOf(system: System, field: string): { value?: number; as_typed?: string } | undefined {
  const [name, number] = field.split("/");
  const found = system[name as keyof System] as unknown;
  const one = (Array.isArray(found) ? found[Number(number ?? 0)] : found) as
    Record<string, unknown> | undefined;
  return (one?.time_s ?? one?.most_depth_m ?? one) as { value?: number; as_typed?: string } | undefined;
}

/** Whether a value still is what was read on that line, and was not typed anew since. */
export function stillReads(system: System, place: Schemas["ReadFrom"]): boolean {
  const value = readingOf(system, place.field)?.value;
  if (typeof place.value !== "number" || typeof value !== "number") return true;
  return Math.abs(value - place.value) <= 1e-6 * Math.abs(place.value);
}

/** A line of a sheet as it counts: with its unit, which may stand in a column of its own. */
export const asTaken = (system: System, place: Schemas["ReadFrom"]): string =>
  readingOf(system, place.field)?.as_typed || place.written || "";
