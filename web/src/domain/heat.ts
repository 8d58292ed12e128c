/** Heat as the server sent it, read at the time cursor; colours for drawing. No rule of the trade is in
 *  here. */
import type { Schemas } from "../api/client";
import type { Plan } from "../api/queries";

export type HeatMap = Schemas["HeatMap"];
export type LayerHeat = Schemas["LayerHeat"];
export type Chance = Schemas["Chance"];
export type Tint = "fill" | "temperature" | "cure";

const NOTHING_C = -200;

/** Seconds since the first pour stood in the hollow; null before it, or without a clock. */
export function secondsAt(plan: Plan, cursor: Date | null): number | null {
  const first = plan.clock?.rows[0]?.segments[0]?.to_at;
  if (!first || !cursor) return null;
  const seconds = (+cursor - +new Date(first)) / 1000;
  return seconds < 0 ? null : seconds;
}

export interface Moment {
  heights: number[];
  /** null where nothing is poured yet */
  temperature: (number | null)[];
  cure: number[];
}

/** The middle of the void at a moment, between the two nearest times of the map; after its end, its end. */
export function momentOf(map: HeatMap | undefined, seconds: number | null): Moment | null {
  if (!map || seconds === null || !map.times_s.length) return null;
  const last = map.times_s.length - 1;
  const after = map.times_s.findIndex((at) => at >= seconds);
  const high = after === -1 ? last : after;
  const low = Math.max(high - 1, 0);
  const share =
    high === low || map.times_s[high] === map.times_s[low]
      ? 1
      : Math.min(Math.max((seconds - map.times_s[low]!) / (map.times_s[high]! - map.times_s[low]!), 0), 1);
  const temperature = map.heights_m.map((_, index) => {
    const [a, b] = [map.temperature_c[low]![index]!, map.temperature_c[high]![index]!];
    if (b < NOTHING_C) return null;
    return a < NOTHING_C ? (seconds >= map.times_s[high]! ? b : null) : a + share * (b - a);
  });
  return {
    heights: map.heights_m,
    temperature,
    cure: map.heights_m.map(
      (_, index) => map.cure[low]![index]! + share * (map.cure[high]![index]! - map.cure[low]![index]!),
    ),
  };
}

/** Hottest between two heights, for the degree figure beside the tint. */
export function hottestBetween(moment: Moment | null, from: number, to: number): number | null {
  const found = (moment?.temperature ?? []).filter(
    (value, index): value is number =>
      value !== null && moment!.heights[index]! > from && moment!.heights[index]! < to,
  );
  return found.length ? Math.max(...found) : null;
}

const STOPS: [number, [number, number, number]][] = [
  [0, [240, 225, 190]],
  [0.45, [224, 183, 91]],
  [0.75, [201, 116, 58]],
  [1, [166, 61, 47]],
];

function between(share: number, stops: [number, [number, number, number]][]): string {
  const at = Math.min(Math.max(share, 0), 1);
  const high = Math.max(
    stops.findIndex((stop) => stop[0] >= at),
    1,
  );
  const [[a, low], [b, top]] = [stops[high - 1]!, stops[high]!];
  const part = (at - a) / (b - a);
  return `rgb(${low.map((value, index) => Math.round(value + part * (top[index]! - value))).join(" ")})`;
}

/** Straw when cool, rust at what must never be. */
export function heatColour(celsius: number, room: number, never: number): string {
  return between((celsius - room) / Math.max(never - room, 1), STOPS);
}

/** Pale while liquid, spruce when hard. */
export function cureColour(percent: number): string {
  return between(percent / 100, [
    [0, [236, 232, 218]],
    [0.6, [150, 184, 170]],
    [1, [30, 90, 80]],
  ]);
}

/** Round degrees for an axis over a range. */
export function ticks(low: number, high: number, most = 4): number[] {
  const step = [0.5, 1, 2, 5, 10, 20, 25, 50, 100, 200].find((one) => (high - low) / one <= most) ?? 500;
  const found = [];
  for (let at = Math.ceil(low / step) * step; at <= high; at += step) found.push(at);
  return found;
}

/** The layers of a void with their heat, lowest first, and the axis that holds all of them. */
export function heatAxis(
  heats: (LayerHeat | null | undefined)[],
): { low: number; high: number; limit: number } | null {
  const known = heats.filter((one): one is LayerHeat => !!one);
  if (!known.length) return null;
  const limit = Math.min(...known.map((one) => one.wanted_c));
  const peaks = known.map((one) => one.peak.value);
  const low = Math.min(20, ...known.flatMap((one) => one.curve.map((point) => point[1])));
  const high = Math.min(
    Math.max(limit + 8, ...peaks.map((one) => one + 6), ...known.map((one) => (one.chance?.high_c ?? 0) + 4)),
    190,
  );
  return { low: Math.floor(low / 5) * 5, high, limit };
}

/** Shares of pours in words: never more certain than the draws are. */
export function ofHundred(share: number): string {
  const count = Math.round(share * 100);
  return share <= 0 ? "none" : count < 1 ? "under 1" : count >= 99 ? "nearly all" : `about ${count}`;
}
