import { useEffect, useState } from "react";

/** True from the first time on that it was: a page that has come in whole once is not taken away for a later answer. */
export function useOnce(isNow: boolean): boolean {
  const [wasEver, setEver] = useState(isNow);
  useEffect(() => {
    if (isNow) setEver(true);
  }, [isNow]);
  return wasEver || isNow;
}
