import { describe, expect, it } from "vitest";
import type { Piece, Plan } from "../api/queries";
import { edgesOf, volumeAt, withBoundary } from "./boundaries";
import { pointerWords, setAt, valueWords } from "./pointer";
import { freshId } from "./shapes";

const layer = (number: number, from_m: number, to_m: number, portion_id: string) => ({
  void_id: "v",
  portion_id,
  number,
  from_m,
  to_m,
});
const plan = {
  pours: [
    { layers: [layer(1, 0, 0.04, "a")] },
    { layers: [layer(2, 0.04, 0.06, "a")] },
    { layers: [layer(3, 0.06, 0.09, "b")] },
  ],
} as unknown as Plan;
const piece = {
  name: "x",
  voids: [{ id: "v", name: "v", portions: [{ id: "a" }, { id: "b" }] }],
} as unknown as Piece;

describe("boundaries", () => {
  it("interpolates the table and stays inside it", () => {
    const table = [
      [0, 0],
      [0.1, 1],
      [0.2, 4],
    ];
    const expected: [number, number][] = [
      [-1, 0],
      [0.05, 0.5],
      [0.15, 2.5],
      [9, 4],
    ];
    expected.forEach(([height, volume]) => expect(volumeAt(table, height)).toBeCloseTo(volume, 12));
  });
  it("moves inside a colour only", () =>
    expect(edgesOf(plan, "v").map((edge) => edge.movable)).toEqual([true, false]));
  it("writes every portion's split down, the moved one changed", () => {
    const moved = withBoundary(piece, plan, "v", edgesOf(plan, "v")[0]!, 0.0312345);
    expect(moved.layering).toBe("own");
    expect(
      moved.voids![0]!.portions.map((portion) => portion.boundaries_m!.map((one) => one.as_typed)),
    ).toEqual([["31.23 mm"], []]);
  });
  it("keeps what was typed", () => {
    const moved = withBoundary(piece, plan, "v", edgesOf(plan, "v")[0]!, 0.0381, "1 1/2 in");
    expect(moved.voids![0]!.portions[0]!.boundaries_m![0]).toMatchObject({
      as_typed: "1 1/2 in",
      value: 0.0381,
    });
  });
});

describe("conflict pointers", () => {
  const document = { name: "a", voids: [{ id: "v", shape: { depth_m: { as_typed: "1 mm" } } }] };
  it("sets a value inside a list by id", () =>
    expect(
      setAt(document, "/voids/v/shape/depth_m", { as_typed: "2 mm" }).voids[0]!.shape.depth_m.as_typed,
    ).toBe("2 mm"));
  it("takes a void out and puts one in", () => {
    expect(setAt(document, "/voids/v", null).voids).toEqual([]);
    expect(setAt(document, "/voids/w", { id: "w" } as never).voids).toHaveLength(2);
  });
  it("speaks the trade's words", () =>
    expect(pointerWords("/voids/inlet/shape/depth_m")).toBe("void › inlet › depth"));
  it.each([
    [null, "nothing"],
    [{ as_typed: "3 mm" }, "3 mm"],
    [[], "none"],
    ["even", "even"],
    [{ kind: "box" }, "box"],
  ])("says %j as %s", (value, words) => expect(valueWords(value)).toBe(words));
  it("finds a free id", () => expect(freshId("void", ["void-1", "void-2"])).toBe("void-3"));
});
