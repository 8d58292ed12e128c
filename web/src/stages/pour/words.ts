import type { ScriptStep, StepView } from "../../domain/run";
import { since } from "../../ui/alarms";

/** "15:52", or "Wed 13:00" where it is another day than `now`. */
export function clockTime(at: number, zone: string, now = at): string {
  const day = (moment: number) => new Intl.DateTimeFormat("en-GB", { timeZone: zone, weekday: "short", day: "numeric" }).format(new Date(moment));
  const time = new Intl.DateTimeFormat("en-GB", { timeZone: zone, hour: "2-digit", minute: "2-digit", hourCycle: "h23" }).format(new Date(at));
  return day(at) === day(now) ? time : `${day(at)}, ${time}`;
}

/** How late it is and what that means for this step. */
export function lateWords(step: ScriptStep, seen: StepView, now: number, zone: string): string {
  const closes = seen.closes_at ?? now;
  const late = `${since(now - closes)} past its window, which closed ${clockTime(closes, zone, now)}.`;
  switch (step.kind) {
    case "pour":
      return `${late} Look at the cup first: strings, lumps or heat mean it is not poured any more. Spread it thin, away from what burns.`;
    case "defoam":
      return `${late} It has set too far for a flame: leave it.`;
    case "weigh": case "ready":
      return `${late} The layer below bonds no more by itself: test it, sand it all over, then pour.`;
    case "test": case "form": case "watch":
      return `${late} Look at it before you decide: do it now if it still gives, else leave it out.`;
    default:
      return late;
  }
}
