/** Clocks of the page. */
import { useEffect, useState } from "react";

/** This device's clock [ms], looked at every so often. */
export function useNow(everyMs: number): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = window.setInterval(() => setNow(Date.now()), everyMs);
    return () => window.clearInterval(timer);
  }, [everyMs]);
  return now;
}

/** The server's clock carried on by this device from the answer that came at `fetchedAt` [ms]; the device's
 *  own without one. */
export function useServerNow(server: string | undefined, fetchedAt: number, everyMs: number): number {
  const now = useNow(everyMs);
  return server ? +new Date(server) + Math.max(now - fetchedAt, 0) : now;
}
