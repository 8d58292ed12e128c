/** A change made on an older state of a thing, carried over to its newest one. */

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/** `now` with what differs between `before` and `after`; where all three are lists of one length, place by
 *  place. */
export function carried<T>(before: T, after: T, now: T): T {
  if (Object.is(before, after)) return now;
  if (isRecord(before) && isRecord(after) && isRecord(now)) {
    const names = new Set([...Object.keys(before), ...Object.keys(after), ...Object.keys(now)]);
    const found: Record<string, unknown> = {};
    for (const name of names) {
      const value = carried(before[name], after[name], now[name]);
      if (value !== undefined) found[name] = value;
    }
    return found as T;
  }
  if (Array.isArray(before) && Array.isArray(after) && Array.isArray(now))
    if (before.length === after.length && before.length === now.length)
      return after.map((one, at) => carried(before[at], one, now[at])) as T;
  return JSON.stringify(before) === JSON.stringify(after) ? now : after;
}
