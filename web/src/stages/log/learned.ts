/** A learned value put into the document at its place, with its origin; nothing else changes. */
import type { Piece } from "../../api/queries";

export function withLearned(piece: Piece, pointer: string, value: number): Piece {
  const copy = structuredClone(piece);
  const path = pointer.split("/").slice(1);
  const last = path.pop()!;
  const place = path.reduce<unknown>((now, key) => (now as Record<string, unknown>)[key], copy);
  (place as Record<string, unknown>)[last] = { value, origin: "learned" };
  return copy;
}
