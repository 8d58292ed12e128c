/** A page that was gone to takes the focus with it: the key that led there is gone, and without this the next Tab would
 *  begin at the top of the window. */
import { useEffect, useRef } from "react";

const LOOKS_FOR_MS = 3000;

/** Where a person stands now: the page's own heading, or the first of the page. */
const place = () => document.querySelector<HTMLElement>("main h1, main h2, h1");
const isLost = () => !document.activeElement || document.activeElement === document.body;

export function useArrival(where: string): void {
  const before = useRef(where);
  useEffect(() => {
    if (before.current === where) return; // opened here: the way round the places stays the first stop
    before.current = where;
    const until = performance.now() + LOOKS_FOR_MS;
    let frame = 0;
    const look = () => {
      if (!isLost()) return;
      const found = place();
      if (found) {
        found.tabIndex = -1;
        found.focus({ preventScroll: true });
      } else if (performance.now() < until) frame = requestAnimationFrame(look);
    };
    frame = requestAnimationFrame(look);
    return () => cancelAnimationFrame(frame);
  }, [where]);
}
