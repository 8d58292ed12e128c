import { describe, expect, it } from "vitest";
import { asTaken, fieldName, SECTIONS, stillReads, type System } from "./system-fields";

const place = (field: string, value: number | null) =>
  ({
    field,
    value,
    file: "0".repeat(64),
    page: 1,
    left: 0,
    top: 0,
    right: 1,
    bottom: 1,
    written: "",
  }) as never;

describe("values of a sheet", () => {
  it("each has a name of its own where it stands by itself", () => {
    const names = SECTIONS.flatMap(([, rows]) => rows).map(([key]) => fieldName(key));
    expect(new Set(names).size).toBe(names.length);
    expect(fieldName("viscosity_at_c")).toBe("viscosity of the mix, at");
    expect(names.some((one) => one.startsWith("…"))).toBe(false);
  });
  it("are no longer their line's once typed anew", () => {
    const system = {
      demould_s: { value: 86400 },
      working_time: { time_s: { value: 1800, as_typed: "30 min" } },
      depth_rules: [{ most_depth_m: { value: 0.02 } }, { most_depth_m: { value: 0.05 } }],
    } as unknown as System;
    expect(stillReads(system, place("demould_s", 86400))).toBe(true);
    expect(stillReads(system, place("demould_s", 90000))).toBe(false);
    expect(stillReads(system, place("working_time", 1800))).toBe(true);
    expect(stillReads(system, place("depth_rules/1", 0.05))).toBe(true);
    expect(stillReads(system, place("depth_rules/0", 0.05))).toBe(false);
    expect(stillReads(system, place("basis", null))).toBe(true);
    expect(asTaken(system, place("working_time", 1800))).toBe("30 min");
  });
});
