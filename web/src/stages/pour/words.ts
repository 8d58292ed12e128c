import type { ScriptStep, StepView } from "../../domain/run";
import { since } from "../../ui/alarms";

/** "15:52", or "Wed 13:00" where it is another day than `now`. */
export function clockTime(at: number, zone: string, now = at): string {
  const day = (moment: number) =>
    new Intl.DateTimeFormat("en-GB", { timeZone: zone, weekday: "short", day: "numeric" }).format(
      new Date(moment),
    );
  const time = new Intl.DateTimeFormat("en-GB", {
    timeZone: zone,
    hour: "2-digit",
    minute: "2-digit",
    hourCycle: "h23",
  }).format(new Date(at));
  return day(at) === day(now) ? time : `${day(at)}, ${time}`;
}

/** How late it is and what that means for this step. */
export function lateWords(step: ScriptStep, seen: StepView, now: number, zone: string): string {
  const closes = seen.closes_at ?? now;
  const late = `${since(now - closes)} past its window, which closed ${clockTime(closes, zone, now)}.`;
  return step.late ? `${late} ${step.late}` : late;
}
