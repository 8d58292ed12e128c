/** Which clock stands large: what is left of a timer, of a wait, or of a window. */
import type { Mark, ScriptStep, StepView } from "../../domain/run";

export interface Timer {
  ms: number;
  words: string;
  share: number;
  over: boolean;
}

export function timerOf(step: ScriptStep, seen: StepView, mark: Mark | undefined, now: number): Timer | null {
  if (step.timer_s && !mark?.begun_at)
    return { ms: step.timer_s * 1000, words: "when started", share: 1, over: false };
  if (seen.timer_ends_at !== null && step.timer_s) {
    const left = seen.timer_ends_at - now;
    return left > 0
      ? { ms: left, words: "to go", share: left / (step.timer_s * 1000), over: false }
      : { ms: -left, words: "over its time", share: 0, over: true };
  }
  if (seen.when === "early" && seen.opens_at !== null)
    return {
      ms: seen.opens_at - now,
      words: "until it is due",
      share: Math.min((seen.opens_at - now) / 3_600_000, 1),
      over: false,
    };
  if (seen.when === "open" && seen.closes_at !== null) {
    const whole = seen.closes_at - (seen.opens_at ?? now);
    return {
      ms: seen.closes_at - now,
      words: step.kind === "pour" ? "until the cup must be empty" : "left to do it",
      share: whole > 0 ? (seen.closes_at - now) / whole : 0,
      over: false,
    };
  }
  if (seen.when === "late" && seen.closes_at !== null)
    return { ms: now - seen.closes_at, words: "past its window", share: 0, over: true };
  return null;
}

/** 4:38, 1:04:38, 2 d 3 h. */
export function large(ms: number): string {
  const seconds = Math.max(Math.ceil(ms / 1000), 0);
  const two = (value: number) => String(value).padStart(2, "0");
  if (seconds < 3600) return `${Math.floor(seconds / 60)}:${two(seconds % 60)}`;
  if (seconds < 36_000)
    return `${Math.floor(seconds / 3600)}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}`;
  const hours = Math.floor(seconds / 3600);
  return hours < 48
    ? `${hours} h ${two(Math.floor(seconds / 60) % 60)}`
    : `${Math.floor(hours / 24)} d ${hours % 24} h`;
}
