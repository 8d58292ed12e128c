/** What is typed so far, tried as part of the piece before it is added: the newest typing alone is asked for. */
import { useEffect, useState } from "react";
import { tryPlan } from "../../api/operations.generated";
import type { Piece, Plan } from "../../api/queries";
import { useLatest } from "../../ui/useLatest";

const TYPING_MS = 250;

/** build: the piece with what is typed, null while something is missing; key: changes with what is typed. */
export function useTried(build: () => Promise<Piece | null>, key: string): Plan | null {
  const [tried, setTried] = useState<{ key: string; plan: Plan } | null>(null);
  const latest = useLatest(build);
  useEffect(() => {
    let isOver = false;
    const timer = setTimeout(() => {
      void (async () => {
        try {
          const piece = await latest.current();
          if (!piece || isOver) return;
          const { plan } = await tryPlan({ piece, room_c: null, in_full: false });
          if (!isOver) setTried({ key, plan });
        } catch {
          // what cannot be read yet is told at its field, when it is left
        }
      })();
    }, TYPING_MS);
    return () => {
      isOver = true;
      clearTimeout(timer);
    };
  }, [key, latest]);
  return tried?.key === key ? tried.plan : null;
}
