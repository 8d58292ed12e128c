/** The kinds of hollow a person can measure: names, their readings in the order of measuring, and how to draw them small. */
export type ShapeKind = "box" | "cylinder" | "cone" | "bowl" | "outline";

export interface ShapeField {
  key: string;
  label: string;
  kind: string;
  mark: string;
  optional?: boolean;
}

export const SHAPES: Record<ShapeKind, { name: string; fields: ShapeField[] }> = {
  box: { name: "box", fields: [
    { key: "length_m", label: "length", kind: "length", mark: "L" }, { key: "width_m", label: "width", kind: "length", mark: "W" },
    { key: "depth_m", label: "depth", kind: "length", mark: "D" }] },
  cylinder: { name: "cylinder", fields: [
    { key: "diameter_m", label: "diameter", kind: "length", mark: "⌀" }, { key: "depth_m", label: "depth", kind: "length", mark: "D" }] },
  cone: { name: "cup or cone", fields: [
    { key: "top_diameter_m", label: "diameter at the rim", kind: "length", mark: "⌀" },
    { key: "bottom_diameter_m", label: "diameter at the bottom", kind: "length", mark: "⌀b" },
    { key: "depth_m", label: "depth", kind: "length", mark: "D" }] },
  bowl: { name: "bowl", fields: [
    { key: "rim_diameter_m", label: "diameter at the rim", kind: "length", mark: "⌀" }, { key: "depth_m", label: "depth", kind: "length", mark: "D" }] },
  outline: { name: "outline × depth", fields: [
    { key: "depth_m", label: "depth", kind: "length", mark: "D" },
    { key: "draft_deg", label: "draft, leaning in", kind: "angle", mark: "draft", optional: true }] },
};

export const WALLS = ["wood", "board", "silicone", "plastic", "metal", "glass", "other"] as const;

/** A short id that is free among the given ones. */
export function freshId(stem: string, taken: readonly string[]): string {
  let number = taken.length + 1;
  while (taken.includes(`${stem}-${number}`)) number += 1;
  return `${stem}-${number}`;
}
