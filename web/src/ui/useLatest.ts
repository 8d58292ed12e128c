/** The newest value for handlers that were set up earlier: read it in events and timers, never while
 *  rendering. */
import { useLayoutEffect, useRef, type RefObject } from "react";

export function useLatest<T>(value: T): RefObject<T> {
  const latest = useRef(value);
  useLayoutEffect(() => {
    latest.current = value;
  });
  return latest;
}
