/** A page that was gone to takes the focus with it: the key that led there is gone, and without this the next Tab would
 *  begin at the top of the window. */
import { useEffect, useRef } from "react";

const LOOKS_FOR_MS = 60_000;
const EVERY_MS = 100;

/** Where a person stands now: the page's own heading, or the first of the page. */
const place = () => document.querySelector<HTMLElement>("main h1, main h2, h1");
const isLost = () => !document.activeElement || document.activeElement === document.body;

export function useArrival(where: string): void {
  const before = useRef(where);
  useEffect(() => {
    if (before.current === where) return; // opened here: the way round the places stays the first stop
    before.current = where;
    const until = performance.now() + LOOKS_FOR_MS;
    // On a slow line the page before stands for seconds, and takes the focus with it when it goes: this looks
    // again until the person does something themselves.
    const look = () => {
      const found = isLost() ? place() : null;
      if (found) {
        found.tabIndex = -1;
        found.focus({ preventScroll: true });
      }
      if (performance.now() > until) leave();
    };
    const timer = setInterval(look, EVERY_MS);
    const leave = () => {
      clearInterval(timer);
      removeEventListener("keydown", leave, true);
      removeEventListener("pointerdown", leave, true);
    };
    addEventListener("keydown", leave, true);
    addEventListener("pointerdown", leave, true);
    const frame = requestAnimationFrame(look);
    return () => {
      cancelAnimationFrame(frame);
      leave();
    };
  }, [where]);
}
