import { describe, expect, it } from "vitest";
import { moved, sideOf, typedOf, withCoat, withLay, without, withSide } from "./lays";
import type { Coat } from "./surfaces";

const lay = (id: string, mm: number) => ({ id, film_m: { value: mm / 1000, as_typed: `${mm} mm` } });
const coat = {
  id: "top",
  name: "Top",
  surface: { kind: "area", area_m2: { value: 1 } },
  lays: [lay("a", 0.3), lay("b", 1.2)],
} as unknown as Coat;
const ids = (one: Coat) => one.lays.map((each) => each.id);

describe("coats of a stack", () => {
  it("adds one and leaves the others as they are", () => {
    const more = withCoat(coat);
    expect(more.lays).toHaveLength(3);
    expect(more.lays.slice(0, 2)).toEqual(coat.lays);
    expect(new Set(ids(more)).size).toBe(3);
    expect(more.lays[2]!.film_m!.value).toBe(0.0012);
  });
  it("copies one behind itself", () => {
    const more = withCoat(coat, coat.lays[0], 1);
    expect(more.lays.map((each) => each.film_m!.value)).toEqual([0.0003, 0.0003, 0.0012]);
  });
  it("moves one sooner and later, and not past the ends", () => {
    expect(ids(moved(coat, "b", -1))).toEqual(["b", "a"]);
    expect(ids(moved(coat, "a", -1))).toEqual(["a", "b"]);
    expect(ids(moved(coat, "b", 1))).toEqual(["a", "b"]);
    expect(ids(without(coat, "a"))).toEqual(["b"]);
  });
  it("is typed by one side at a time", () => {
    const amount = withLay(coat, "a", (one) => withSide(one, "amount", "200 mL in all")).lays[0]!;
    expect([sideOf(amount), typedOf(amount, "amount"), typedOf(amount, "film")]).toEqual([
      "amount",
      "200 mL in all",
      "",
    ]);
    expect(amount.film_m).toBeNull();
    const rule = withSide(amount, "rule", "30 g per m2");
    expect([sideOf(rule), rule.amount]).toEqual(["rule", null]);
    expect(sideOf(withSide(rule, "film", { value: 0.001, as_typed: "1 mm", origin: "chosen" }))).toBe("film");
  });
});
