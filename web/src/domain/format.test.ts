import { describe, expect, it } from "vitest";
import { defaultUnit, duration, like, onTheScale, show, text } from "./format";

describe("values for reading", () => {
  // factors: NIST SP 811
  it.each([
    [0.0254, "length", "us", "1.00 in"],
    [0.0403, "length", "metric", "40.3 mm"],
    [0.04, "length", "metric", "40 mm"],
    [1.38, "length", "metric", "1380 mm"],
    [29.5735295625e-6, "volume", "us", "1.00 fl oz"],
    [0.9e-6, "volume", "us", "0.030 fl oz"],
    [3.6e-3, "volume", "metric", "3.60 L"],
    [21.5e-6, "volume", "metric", "21.5 mL"],
    [215e-6, "volume", "metric", "215 mL"],
    [0.45359237, "mass", "us", "1.00 lb"],
    [0.028349523125, "mass", "us", "1.00 oz wt"],
    [0.6701, "mass", "metric", "670.1 g"],
    [1.5, "mass", "metric", "1.50 kg"],
    [20, "temperature", "us", "68 °F"],
    [20, "temperature", "metric", "20.0 °C"],
    [0.025, "fraction", "metric", "2.5 %"],
    [0.0002, "fraction", "metric", "< 0.1 %"],
    [1e-4, "areal_volume", "metric", "100 mL/m²"],
    [3.4286, "ratio", "metric", "3.4286 : 1"],
    [1120, "density", "metric", "1.120 g/mL"],
    [2, "angle", "metric", "2.0 °"],
    [0.01, "area", "metric", "100 cm²"],
    [14, "count", "metric", "14"],
  ] as const)("%d as %s in %s reads %s", (value, quantity, units, words) =>
    expect(text(value, quantity, units)).toBe(words),
  );

  it.each([
    [30, "30 s"],
    [2400, "40 min"],
    [5400, "1.5 h"],
    [140400, "39 h"],
    [604800, "7 days"],
  ])("%d seconds read %s", (seconds, words) => {
    const { number, unit } = duration(seconds);
    expect(`${number} ${unit}`).toBe(words);
  });

  it("shows money in the workshop's currency", () =>
    expect(show(2400, "money", "metric", "GBP").number).toMatch(/£24\.00/));
  it("shows grams and ounces side by side on the scale", () =>
    expect(onTheScale(1.1262)).toEqual({ grams: "1126.2", ounces: "39.73 oz wt" }));
  it("reads a bare number in the family's unit", () =>
    expect([
      defaultUnit("length", "us"),
      defaultUnit("length", "metric"),
      defaultUnit("ratio", "us"),
    ]).toEqual(["in", "mm", null]));
});

describe("two of a kind in one sentence", () => {
  it.each([
    [0.0428, 0.3268, "area", "0.043 m²"],
    [0.0428, 0.0628, "area", "428 cm²"],
    [0.0008, 0.0028, "area", "8.0 cm²"],
    [99.2e-6, 3.71e-3, "volume", "0.10 L"],
    [99.2e-6, 0.5e-3, "volume", "99.2 mL"],
  ] as const)("%d beside %d, %s, reads %s", (value, reference, quantity, words) => {
    const { number, unit } = like(value, reference, quantity, "metric");
    expect(`${number} ${unit}`).toBe(words);
  });
});
