/** Geometry and states of the section, from the plain numbers that the server sent. */
import type { Schemas } from "../api/client";
import type { Plan } from "../api/queries";

/** What a layer is doing at the time cursor. */
export function stateAt(plan: Plan, number: number, cursor: Date | null): string {
  if (!cursor || !plan.clock) return "planned";
  const row = plan.clock.rows[number - 1];
  if (!row?.segments.length || new Date(row.segments[0]!.from_at) > cursor) return "not poured yet";
  const segment = row.segments.findLast((one) => new Date(one.from_at) <= cursor);
  return segment ? segment.label : "planned";
}

/** Push labels apart so that thin layers keep a readable line each, bottom layer first. */
export function spread(centres: number[], gap: number, least: number, most: number): number[] {
  const placed = [...centres];
  for (let i = 1; i < placed.length; i += 1) placed[i] = Math.min(placed[i]!, placed[i - 1]! - gap);
  const over = least + 14 - (placed.at(-1) ?? least + 14);
  const shifted = over > 0 ? placed.map((at) => at + over) : placed;
  return shifted.map((at) => (shifted.length === 1 ? Math.min(Math.max(at, least + 14), most) : at));
}

/** Half the section's width at a height, between the rows of its profile. */
export function halfAt(section: Schemas["Section"], level: number): number {
  const profile = section.profile;
  const index = profile.findIndex((row) => row[0] >= level);
  if (index <= 0) return index === 0 ? profile[0]![1] : profile[profile.length - 1]![1];
  const [low, high] = [profile[index - 1]!, profile[index]!];
  return low[1] + ((level - low[0]) / (high[0] - low[0])) * (high[1] - low[1]);
}

/** The outline of one layer as an SVG path. */
export function slice(
  section: Schemas["Section"],
  from: number,
  to: number,
  middle: number,
  scale: number,
  y: (level: number) => number,
): string {
  const levels = [
    from,
    ...section.profile.map((row) => row[0]).filter((level) => level > from && level < to),
    to,
  ];
  const side = (sign: number) =>
    levels.map(
      (level) => `${(middle + sign * halfAt(section, level) * scale).toFixed(1)} ${y(level).toFixed(1)}`,
    );
  return `M${[...side(-1), ...side(1).reverse()].join("L")}Z`;
}

/** Closed rings of the real cut as one SVG path for the even-odd rule; empty where half widths tell it. */
export function ringsPath(
  section: Schemas["Section"],
  middle: number,
  scale: number,
  y: (level: number) => number,
): string {
  return (section.cut_rings ?? [])
    .map(
      (ring) =>
        `M${ring.map(([across, level]) => `${(middle + across * scale).toFixed(1)} ${y(level).toFixed(1)}`).join("L")}Z`,
    )
    .join("");
}

/** The name of a void or coat. */
export function nameOf(plan: Plan, id: string): string {
  return (
    plan.voids.find((one) => one.void_id === id)?.name ??
    plan.coats?.find((one) => one.coat_id === id)?.name ??
    ""
  );
}
