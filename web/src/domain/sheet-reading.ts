/** What a data sheet says, in words: names of the quantities, what speaks against a reading, and which values a sheet
 *  was silent on. */
import type { Schemas } from "../api/client";

export type Reading = Schemas["SheetReading"];
export type Row = Schemas["FoundRow"];

const NAMES: Record<string, string> = {
  ratio: "mixing ratio A : B",
  density: "density",
  viscosity: "viscosity",
  working_time: "working time",
  gel_time: "gel time",
  tack_free: "tack-free after",
  touch_dry: "dry to the touch after",
  recoat: "bond window",
  demould: "demould after",
  light_use: "light use after",
  full_cure: "full cure",
  stir: "stir",
  rest: "rest before pouring",
  depth_most: "deepest layer",
  depth_least: "least layer",
  depth: "layer",
  coverage: "coverage",
  colourant_most: "colourant at most",
  liquid_most: "liquid colourant at most",
  room: "room",
  humidity_most: "humidity below",
  pour_temperature: "pour at",
  heat_resistance: "stands heat up to",
  tg: "glass transition",
  hdt: "heat deflection",
  peak: "peak",
  hardness: "hardness, Shore",
  shrinkage: "shrinkage",
  pressure: "pressure, gauge",
  shelf_life: "shelf life",
  kit: "sold as",
};
const PARTS: Record<string, string> = { a: " of A", b: " of B", mix: " of the mix" };

export function nameOf(row: Row): string {
  const { quantity, part, product } = row.found;
  return `${NAMES[quantity] ?? quantity}${PARTS[part ?? ""] ?? ""}${product ? `, ${product}` : ""}`;
}

/** The value as it would be typed, a ratio with its basis. */
export function valueOf(row: Row, basis?: string): string {
  const { found } = row;
  const by = basis ?? found.basis;
  const limit = found.limit === "most" ? "at most " : found.limit === "least" ? "at least " : "";
  return `${limit}${found.as_typed}${by ? ` by ${by}` : ""}`;
}

export function conditionsOf(row: Row): string {
  const { at_c, mass_kg, depth_m, until } = row.found;
  return [
    at_c === null || at_c === undefined ? "" : `at ${round(at_c)} °C`,
    mass_kg === null || mass_kg === undefined
      ? ""
      : mass_kg < 1
        ? `${round(mass_kg * 1000)} g`
        : `${round(mass_kg)} kg`,
    depth_m === null || depth_m === undefined ? "" : `${round(depth_m * 1000)} mm deep`,
    until ? `until ${until}` : "",
  ]
    .filter(Boolean)
    .join(", ");
}

const round = (value: number) => String(Number(value.toPrecision(4)));

const DOUBTS: Record<string, string> = {
  "no-basis": "by volume or by weight? The sheet does not say",
  "said-otherwise": "the sheet says another value elsewhere",
  "out-of-sense": "hardly possible: check the number and its unit",
  "from-a-picture": "from a picture: compare it",
  "number-beside": "a number beside it was not understood: look whether it belongs to it",
  "read-once": "one of two readings of the picture found it: compare it",
  "read-otherwise": "two readings of the picture differ: compare it",
  "hard-to-read": "hard to read in the picture",
  "two-readings": "its comma may mark decimals or thousands",
  "named-behind": "its name stands behind it",
};

export const doubtsOf = (row: Row): string[] => (row.found.doubts ?? []).map((one) => DOUBTS[one] ?? one);

/** Taken at once by "all that are sure": sure, of use to a plan, and of one product only. */
export function isSure(row: Row, product: string): boolean {
  return row.found.sure === "sure" && row.fields.length > 0 && (row.found.product ?? "") === product;
}

/** The columns of a sheet for several products, as their heads name them. */
export const productsOf = (rows: Row[]): string[] => [
  ...new Set(rows.map((row) => row.found.product ?? "").filter(Boolean)),
];

const FIELDS: [string, string][] = [
  ["ratio", "mixing ratio"],
  ["density_a_kg_m3", "density of A"],
  ["density_b_kg_m3", "density of B"],
  ["viscosity_pa_s", "viscosity of the mix"],
  ["working_time", "working time"],
  ["depth_rules", "deepest layer"],
  ["tack_free_s", "tack-free"],
  ["bond_from_s", "bond window opens"],
  ["bond_to_s", "bond window closes"],
  ["demould_s", "demould"],
  ["full_cure_s", "full cure"],
  ["stir_s", "stir"],
  ["rest_s", "rest"],
  ["shrinkage", "shrinkage"],
  ["colourant_most", "colourant at most"],
  ["room_from_c", "room from"],
  ["room_to_c", "room to"],
  ["room_humidity_most", "humidity"],
];

/** What a plan needs and the taken rows do not say: it stays typical. */
export function missing(rows: Row[]): string[] {
  const told = new Set(rows.flatMap((row) => row.fields));
  return FIELDS.filter(([field]) => !told.has(field)).map(([, words]) => words);
}

/** Where a value stands on its sheet: the address that opens it there. */
export function lineOf(place: Schemas["ReadFrom"]): string {
  return `/shelf/read/${place.file}?page=${place.page}&down=${place.top.toFixed(3)}&right=${place.left.toFixed(3)}`;
}

/** The row that was read at such a place, the nearest on its page. */
export function rowAt(reading: Reading, page: number, down: number, right: number): Row | undefined {
  const size = reading.pages.find((one) => one.number === page);
  if (!size) return undefined;
  const far = (row: Row) =>
    Math.min(
      ...row.found.where
        .filter((box) => box.page === page)
        .map((box) => Math.hypot(box.top / size.height - down, box.x0 / size.width - right)),
    );
  const nearest = reading.rows.reduce<Row | undefined>(
    (best, row) => (best && far(best) <= far(row) ? best : row),
    undefined,
  );
  return nearest && far(nearest) < NEAR ? nearest : undefined;
}

const NEAR = 0.02; // of a page's side
