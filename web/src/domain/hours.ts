/** Hours of the day as people write them, to minutes and back. */
export interface Span {
  from_min: number;
  to_min: number;
}

function clockText(minutes: number): string {
  return `${String(Math.floor(minutes / 60)).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`;
}

export function spansText(spans: Span[]): string {
  return spans.map((span) => `${clockText(span.from_min)}-${clockText(span.to_min)}`).join(", ");
}

/** "07:30-12:00, 13:00-19:00" to spans; throws a sentence when it cannot be read. */
export function readSpans(text: string): Span[] {
  if (!text.trim()) return [];
  return text.split(",").map((part) => {
    const found = /^\s*(\d{1,2})[:.](\d{2})\s*(?:-|–|to)\s*(\d{1,2})[:.](\d{2})\s*$/.exec(part);
    if (!found || +found[1]! > 23 || +found[3]! > 24 || +found[2]! > 59 || +found[4]! > 59)
      throw new Error(`“${part.trim()}” is not read. Write hours like 07:30-12:00, 13:00-19:00.`);
    return { from_min: +found[1]! * 60 + +found[2]!, to_min: +found[3]! * 60 + +found[4]! };
  });
}
