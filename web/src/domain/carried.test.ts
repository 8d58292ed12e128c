import { describe, expect, it } from "vitest";
import { carried } from "./carried";

const before = { name: "Slow", heat: { value: 1 }, rules: [{ depth: 1 }, { depth: 2 }], note: "a" };

describe("a change carried over to the newest state", () => {
  it("keeps what was changed elsewhere meanwhile", () =>
    expect(carried(before, { ...before, name: "Slower" }, { ...before, heat: { value: 2 } })).toEqual({
      ...before,
      name: "Slower",
      heat: { value: 2 },
    }));
  it("goes into lists of the same length, place by place", () =>
    expect(
      carried(
        before,
        { ...before, rules: [{ depth: 9 }, { depth: 2 }] },
        { ...before, rules: [{ depth: 1 }, { depth: 8 }] },
      ).rules,
    ).toEqual([{ depth: 9 }, { depth: 8 }]));
  it("takes a list as it was made where its length changed", () =>
    expect(carried(before, { ...before, rules: [{ depth: 1 }] }, before).rules).toEqual([{ depth: 1 }]));
  it("takes out what was taken out, and lets the later of two changes of one value stand", () => {
    const { note, ...rest } = before;
    expect(carried<Partial<typeof before>>(before, rest, { ...before, name: note })).toEqual({
      ...rest,
      name: "a",
    });
    expect(carried("a", "b", "c")).toBe("b");
    expect(carried("a", "a", "c")).toBe("c");
  });
  it("does not take a copy for a change", () =>
    expect(carried(before, structuredClone(before), { ...before, name: "x" }).name).toBe("x"));
});
