/** Many pieces on one clock: one line a piece, one set of away-hours. */
import type { Schemas } from "../api/client";

type BenchPiece = Pick<Schemas["BenchPiece"], "clock">;

/** All layers of a piece on one line: a later pour takes over from the layer below. */
export function onOneLine(piece: BenchPiece): Schemas["Segment"][] {
  const rows = piece.clock?.rows ?? [];
  return rows.flatMap((row, index) => {
    const end = rows[index + 1]?.segments[0]?.from_at;
    return row.segments
      .filter((segment) => !end || segment.from_at < end)
      .map((segment) => (end && segment.to_at > end ? { ...segment, to_at: end } : segment));
  });
}

/** The spans in which nobody is there, of all pieces, joined where they touch. */
export function mergedAway(pieces: BenchPiece[], from: Date, to: Date): [string, string][] {
  const spans = pieces
    .flatMap((piece) => piece.clock?.away ?? [])
    .filter(([begin, end]) => new Date(end) > from && new Date(begin) < to);
  const sorted = [...new Map(spans.map((span) => [span.join(), span])).values()].sort((a, b) =>
    a[0].localeCompare(b[0]),
  );
  const merged: [string, string][] = [];
  for (const [begin, end] of sorted) {
    const last = merged.at(-1);
    if (last && +new Date(begin) <= +new Date(last[1]))
      last[1] = new Date(end) > new Date(last[1]) ? end : last[1];
    else merged.push([begin, end]);
  }
  return merged;
}
