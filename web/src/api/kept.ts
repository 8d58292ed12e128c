/** Since when what is shown stands so: answers that a device kept, where the network gives none. */
import { useSyncExternalStore } from "react";

const HEADER = "X-Kept-Since";
const ANSWERS = "cavatum-answers";
let since: string | null = null;
const told = new Set<() => void>();

/** Notes where an answer came from: the oldest one kept counts, until the network answers again. */
export function note(response: Response): void {
  const kept = response.headers?.get(HEADER) ?? null;
  const next = kept === null ? null : since === null || kept < since ? kept : since;
  if (next === since) return;
  since = next;
  for (const one of told) one();
}

/** null: the network answers. */
export function useKeptSince(): string | null {
  return useSyncExternalStore(
    (one) => {
      told.add(one);
      return () => told.delete(one);
    },
    () => since,
  );
}

/** What was kept belongs to who was signed in: gone with them. */
export async function forgetAnswers(): Promise<void> {
  if ("caches" in window) await caches.delete(ANSWERS).catch(() => false);
}
