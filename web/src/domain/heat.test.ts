import { describe, expect, it } from "vitest";
import { cureColour, heatColour, hottestBetween, momentOf, ticks, type HeatMap } from "./heat";

const MAP: HeatMap = {
  void_id: "v",
  times_s: [0, 3600, 7200],
  heights_m: [0.01, 0.03],
  temperature_c: [
    [20, -273],
    [30, -273],
    [40, 22],
  ],
  cure: [
    [0, 0],
    [10, 0],
    [30, 1],
  ],
};

describe("heat at the time cursor", () => {
  it("is read between two times, and is nothing before a layer is poured", () => {
    expect(momentOf(MAP, 1800)?.temperature).toEqual([25, null]);
    expect(momentOf(MAP, 7200)?.temperature).toEqual([40, 22]);
    expect(momentOf(MAP, 99999)?.cure).toEqual([30, 1]);
    expect(momentOf(MAP, null)).toBeNull();
  });
  it("gives the hottest between two heights", () => {
    const moment = momentOf(MAP, 7200);
    expect(hottestBetween(moment, 0, 0.02)).toBe(40);
    expect(hottestBetween(moment, 0.02, 0.04)).toBe(22);
    expect(hottestBetween(moment, 0.04, 0.05)).toBeNull();
  });
});

describe("colours and axes", () => {
  it("runs from straw to rust and no further", () => {
    expect(heatColour(200, 20, 80)).toBe(heatColour(80, 20, 80));
    expect(heatColour(20, 20, 80)).not.toBe(heatColour(60, 20, 80));
    expect(cureColour(0)).not.toBe(cureColour(100));
  });
  it("has few round ticks", () => {
    expect(ticks(20, 66)).toEqual([20, 40, 60]);
    expect(ticks(15, 180)).toEqual([50, 100, 150]);
  });
});
