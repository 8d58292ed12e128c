/** Wall time in a zone to and from an instant. The zone is the workshop's, not the browser's. */
function partsIn(at: Date, zone: string): Record<string, string> {
  const format = new Intl.DateTimeFormat("en-CA", {
    timeZone: zone,
    year: "numeric",
    month: "2-digit",
    day: "2-digit",
    hour: "2-digit",
    minute: "2-digit",
    second: "2-digit",
    hourCycle: "h23",
  });
  return Object.fromEntries(format.formatToParts(at).map((part) => [part.type, part.value]));
}

/** "2026-11-24T15:20", as an input of type datetime-local wants it. */
export function toWall(iso: string, zone: string): string {
  const p = partsIn(new Date(iso), zone);
  return `${p.year}-${p.month}-${p.day}T${p.hour}:${p.minute}`;
}

function offsetMs(at: Date, zone: string): number {
  const p = partsIn(at, zone);
  return (
    Date.UTC(+p.year!, +p.month! - 1, +p.day!, +p.hour!, +p.minute!, +p.second!) -
    Math.floor(at.getTime() / 1000) * 1000
  );
}

/** The instant of a wall time; in the hour that a clock change repeats it is the first one. */
export function fromWall(wall: string, zone: string): string {
  const asUtc = new Date(`${wall}:00Z`).getTime();
  const candidates: [number, number] = [
    asUtc - offsetMs(new Date(asUtc - 86_400_000), zone),
    asUtc - offsetMs(new Date(asUtc + 86_400_000), zone),
  ];
  const exact = candidates.filter((ms) => toWall(new Date(ms).toISOString(), zone) === wall);
  return new Date(exact.length ? Math.min(...exact) : candidates[0]).toISOString();
}

export interface Day {
  at: Date;
  label: string;
}

/** Midnights (wall time) between two instants, each with its day's name. */
export function midnights(from: Date, to: Date, zone: string): Day[] {
  const days: Day[] = [];
  let wall = `${toWall(from.toISOString(), zone).slice(0, 10)}T00:00`;
  for (let count = 0; count < 400; count += 1) {
    const at = new Date(fromWall(wall, zone));
    if (at > to) break;
    days.push({
      at,
      label: new Intl.DateTimeFormat("en-GB", { weekday: "short", day: "numeric", timeZone: zone }).format(
        at,
      ),
    });
    const next = new Date(`${wall.slice(0, 10)}T12:00:00Z`);
    next.setUTCDate(next.getUTCDate() + 1);
    wall = `${next.toISOString().slice(0, 10)}T00:00`;
  }
  return days;
}

export function countdown(ms: number): string {
  const minutes = Math.max(0, Math.round(ms / 60_000));
  if (minutes < 60) return `${minutes} min`;
  const hours = Math.floor(minutes / 60);
  return hours < 48
    ? `${hours} h ${String(minutes % 60).padStart(2, "0")}`
    : `${Math.floor(hours / 24)} days ${hours % 24} h`;
}

/** Whole hours for an axis of so many seconds, at most about `most` of them, at steps people count in. */
export function hourTicks(seconds: number, most: number): number[] {
  const hours = seconds / 3600;
  const step =
    [1, 2, 3, 6, 12, 24, 48, 72, 168].find((one) => hours / one <= most) ??
    Math.ceil(hours / most / 168) * 168;
  return Array.from({ length: Math.floor(hours / step) + 1 }, (_, index) => index * step);
}
