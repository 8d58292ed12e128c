import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import type { Plan } from "../api/queries";
import { mergedAway, onOneLine } from "./bench";
import { readSpans, spansText } from "./hours";
import { halfAt, slice, spread, stateAt } from "./section";

const hour = (h: number) => new Date(Date.UTC(2026, 2, 2, h)).toISOString();
const segment = (state: string, from: number, to: number) => ({
  state,
  label: state,
  from_at: hour(from),
  to_at: hour(to),
});
const clock = {
  from_at: hour(0),
  to_at: hour(48),
  zone: "UTC",
  pins: [],
  away: [[hour(19), hour(31)]],
  rows: [
    { label: "layer 1", segments: [segment("mix", 1, 2), segment("liquid", 2, 20), segment("bond", 20, 40)] },
    { label: "layer 2", segments: [segment("mix", 30, 31), segment("liquid", 31, 48)] },
  ],
};
const bowl = {
  profile: [
    [0, 0],
    [0.02, 0.06],
    [0.04, 0.1],
  ],
} as unknown as Schemas["Section"];

describe("the section", () => {
  it.each([
    [0, 0],
    [0.01, 0.03],
    [0.02, 0.06],
    [0.03, 0.08],
    [0.09, 0.1],
  ])("at %d m is %d m to each side", (level, half) => expect(halfAt(bowl, level)).toBeCloseTo(half, 12));

  it("draws a layer along the wall, both sides, through every row between", () => {
    const path = slice(bowl, 0.01, 0.04, 100, 1000, (level) => 200 - level * 1000);
    expect(path).toBe("M70.0 190.0L40.0 180.0L0.0 160.0L200.0 160.0L160.0 180.0L130.0 190.0Z");
  });

  it("keeps labels of thin layers apart, the top one below the drawing's edge", () => {
    const placed = spread([200, 195, 190], 40, 20, 260);
    expect(placed.slice(1).map((at, index) => placed[index]! - at)).toEqual([40, 40]);
    expect(spread([60, 30], 40, 20, 260).at(-1)).toBeGreaterThanOrEqual(34);
  });

  it("leaves a single label where its layer is", () => expect(spread([120], 40, 20, 260)).toEqual([120]));

  it.each([
    [0, "not poured yet"],
    [1, "mix"],
    [10, "liquid"],
    [39, "bond"],
  ])("at hour %d layer 1 is: %s", (at, state) =>
    expect(stateAt({ clock } as unknown as Plan, 1, new Date(hour(at)))).toBe(state),
  );
  it("is planned while there is no clock", () =>
    expect(stateAt({ clock: null } as unknown as Plan, 1, new Date())).toBe("planned"));
});

describe("the bench's ribbon", () => {
  const piece = { clock } as unknown as Schemas["BenchPiece"];

  it("lets a later pour take over from the layer below", () => {
    expect(onOneLine(piece).map((one) => [one.state, one.from_at, one.to_at])).toEqual([
      ["mix", hour(1), hour(2)],
      ["liquid", hour(2), hour(20)],
      ["bond", hour(20), hour(30)],
      ["mix", hour(30), hour(31)],
      ["liquid", hour(31), hour(48)],
    ]);
  });
  it("is empty for a piece without a clock", () =>
    expect(onOneLine({ clock: null } as Schemas["BenchPiece"])).toEqual([]));

  it("joins the away-hours of all pieces and cuts none twice", () => {
    const other = {
      clock: {
        ...clock,
        away: [
          [hour(25), hour(33)],
          [hour(40), hour(44)],
        ],
      },
    } as unknown as Schemas["BenchPiece"];
    expect(mergedAway([piece, other], new Date(hour(0)), new Date(hour(48)))).toEqual([
      [hour(19), hour(33)],
      [hour(40), hour(44)],
    ]);
  });
  it("leaves out what lies beyond the axis", () =>
    expect(mergedAway([piece], new Date(hour(32)), new Date(hour(48)))).toEqual([]));
});

describe("hours as people write them", () => {
  it.each([
    [
      "07:30-12:00, 13:00-19:00",
      [
        [450, 720],
        [780, 1140],
      ],
    ],
    ["9.00 to 13.00", [[540, 780]]],
    ["0:00–24:00", [[0, 1440]]],
    ["", []],
  ])("%s", (typed, spans) =>
    expect(readSpans(typed).map((span) => [span.from_min, span.to_min])).toEqual(spans),
  );
  it.each(["8 to noon", "25:00-26:00", "09:60-10:00", "09:00"])("%s is refused with an example", (typed) =>
    expect(() => readSpans(typed)).toThrow("Write hours like"),
  );
  it("reads back what it writes", () =>
    expect(readSpans(spansText([{ from_min: 5, to_min: 1439 }]))).toEqual([{ from_min: 5, to_min: 1439 }]));
});
