/** Small things a page remembers on its device. A store that is full or forbidden drops nothing: the open page
 *  keeps it, and it is said. */
import { useSyncExternalStore } from "react";

type Area = "session" | "device";

export const FULL =
  "This device's storage is full: what is tapped and typed is kept only while this page is open. " +
  "Make room on the device, then load the page again.";
const inPage = new Map<string, string>();
const told = new Set<() => void>();
let isFull = false;

const storeOf = (area: Area) => (area === "session" ? window.sessionStorage : window.localStorage);

function say(full: boolean): void {
  if (full === isFull) return;
  isFull = full;
  for (const one of told) one();
}

export function remembered(area: Area, key: string): string | null {
  const kept = inPage.get(`${area}/${key}`);
  if (kept !== undefined) return kept;
  try {
    return storeOf(area).getItem(key);
  } catch {
    return null;
  }
}

/** False where only the open page keeps it. */
export function remember(area: Area, key: string, text: string): boolean {
  try {
    storeOf(area).setItem(key, text);
    inPage.delete(`${area}/${key}`);
    return true;
  } catch {
    inPage.set(`${area}/${key}`, text);
    say(true);
    return false;
  }
}

export function forget(area: Area, key: string): void {
  inPage.delete(`${area}/${key}`);
  try {
    storeOf(area).removeItem(key);
  } catch {
    // a store that is forbidden holds nothing
  }
  if (!inPage.size) say(false);
}

export function useFullStore(): boolean {
  return useSyncExternalStore(
    (one) => {
      told.add(one);
      return () => told.delete(one);
    },
    () => isFull,
  );
}

/** For tests, which begin with room. */
export function forgetAll(): void {
  inPage.clear();
  say(false);
}
