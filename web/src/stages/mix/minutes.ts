import { duration } from "../../domain/format";

/** A span as it is said at the bench: "5 min", "3.6 h". */
export function minutes(seconds: number): string {
  const { number, unit } = duration(seconds);
  return `${number} ${unit}`;
}
