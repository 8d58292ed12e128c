import { describe, expect, it } from "vitest";
import { countdown, fromWall, midnights, toWall } from "./time";

describe("wall time in the workshop's zone", () => {
  it.each([
    ["2026-07-01T09:30", "Europe/London", "2026-07-01T08:30:00.000Z"],
    ["2026-01-01T09:30", "America/New_York", "2026-01-01T14:30:00.000Z"],
    ["2026-01-01T00:00", "Pacific/Auckland", "2025-12-31T11:00:00.000Z"],
  ])("%s in %s is %s", (wall, zone, iso) => {
    expect(fromWall(wall, zone)).toBe(iso);
    expect(toWall(iso, zone)).toBe(wall);
  });
  // IANA tz: London turns its clocks back at 02:00 on 25 October 2026
  it("takes the first of an hour that comes twice", () =>
    expect(fromWall("2026-10-25T01:30", "Europe/London")).toBe("2026-10-25T00:30:00.000Z"));
  it("counts every midnight once over a clock change", () => {
    const days = midnights(new Date("2026-10-24T12:00Z"), new Date("2026-10-27T12:00Z"), "Europe/London");
    expect(days.map((day) => day.at.toISOString())).toEqual([
      "2026-10-23T23:00:00.000Z",
      "2026-10-24T23:00:00.000Z",
      "2026-10-26T00:00:00.000Z",
      "2026-10-27T00:00:00.000Z",
    ]);
  });
  it.each([
    [-5, "0 min"],
    [59 * 60_000, "59 min"],
    [72 * 60_000, "1 h 12"],
    [50 * 3_600_000, "2 days 2 h"],
  ])("%d ms count down as %s", (ms, words) => expect(countdown(ms)).toBe(words));
});
