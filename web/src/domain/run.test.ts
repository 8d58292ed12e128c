import { describe, expect, it } from "vitest";
import found from "../../../tests/examples/runs.json";
import { fold, look, type Kept, type Script } from "./run";

// The same file that tests/core/test_run_state.py holds against the core's fold: both reducers have to agree
// on every line of it.
interface Examples {
  script: Script;
  logs: Record<string, Kept[]>;
  states: Record<string, Record<string, unknown>>;
  cases: {
    name: string;
    now: string;
    view: { current: string | null; steps: Record<string, unknown>[]; alarms: Record<string, unknown>[] };
  }[];
}
const shared = found as unknown as Examples;

const MOMENTS = new Set([
  "at",
  "begun_at",
  "ended_at",
  "again_at",
  "later_at",
  "over_at",
  "opens_at",
  "closes_at",
  "timer_ends_at",
]);

/** Moments of the core are texts, those of the browser milliseconds. */
function plain(value: unknown, key = ""): unknown {
  if (Array.isArray(value)) return value.map((one) => plain(one));
  if (value && typeof value === "object")
    return Object.fromEntries(
      Object.entries(value)
        .filter(([name]) => name !== "events")
        .map(([name, one]) => [name, plain(one, name)]),
    );
  return MOMENTS.has(key) && typeof value === "string" ? new Date(value).getTime() : value;
}

describe("a run folded in the browser", () => {
  it.each(Object.keys(shared.logs))("makes the same state of the log %s", (name) => {
    expect(plain(fold(shared.script, shared.logs[name]!))).toEqual(plain(shared.states[name]));
  });
  it.each(shared.cases.map((one) => [one.name, one.now, one] as const))(
    "sees %s at %s as the core does",
    (_, __, one) => {
      const view = look(
        shared.script,
        fold(shared.script, shared.logs[one.name]!),
        new Date(one.now).getTime(),
      );
      expect(plain(view)).toEqual(plain(one.view));
    },
  );
});
