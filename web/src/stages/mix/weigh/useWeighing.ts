/** One batch at the scale: begun or found open, looked at four times a second, its entries kept once even when the line drops. */
import { useCallback, useEffect, useRef, useState } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { call, mayPassLater, Refused, type Schemas } from "../../../api/client";

export type Weighing = Schemas["WeighingAnswer"];
export type WeighEvent = Schemas["EntryBody"]["event"];
const LOOK_MS = 250;
const AGAIN_MS = 2000;

interface Entry {
  event_id: string;
  after: number;
  event: WeighEvent;
}

/** The one that has more entries; the second where they have the same (its reading is newer). */
export function newerOf(before: Weighing | undefined, after: Weighing): Weighing {
  return before && before.id === after.id && before.state.version > after.state.version ? before : after;
}

/** begun: which weighing; null until the server has answered. waiting: entries on their way; isLost: the server does not answer. */
export function useWeighing(pieceId: number, pour: number, batch: number) {
  const client = useQueryClient();
  const begun = useQuery({
    queryKey: ["weighing-of", pieceId, pour, batch],
    queryFn: () => call<Weighing>("POST", `/pieces/${pieceId}/weighings`, { pour, batch }),
    staleTime: Infinity,
    retry: 2,
    refetchOnWindowFocus: false,
  });
  const id = begun.data?.id;
  const looked = useQuery({
    queryKey: ["weighing", id],
    queryFn: () => call<Weighing>("GET", `/weighings/${id}`),
    enabled: id !== undefined,
    initialData: begun.data,
    refetchInterval: (query) => (query.state.data?.state.ended ? false : LOOK_MS),
    refetchIntervalInBackground: true,
    staleTime: 0,
    // A look that left before an entry was kept may arrive after it: the weighing never goes back.
    structuralSharing: (before, after) => newerOf(before as Weighing | undefined, after as Weighing),
  });
  const { waiting, isDown, problem, enter } = useEntries(id, looked.data?.state.version ?? 0, (answer) =>
    client.setQueryData(["weighing", id], answer),
  );
  return {
    weighing: looked.data,
    error: begun.error,
    isLost: looked.isError || isDown,
    waiting,
    problem,
    enter,
  };
}

/** Entries in the order they were made, one after the other. What cannot be sent is kept on this device and sent again, under the same id. */
function useEntries(id: number | undefined, version: number, onKept: (answer: Weighing) => void) {
  const key = `cavatum-weighing-${id}`;
  const queue = useRef<Entry[]>([]);
  const known = useRef(0); // entries that the server is known to have
  const sending = useRef(false);
  const kept = useRef(onKept);
  kept.current = onKept;
  known.current = Math.max(known.current, version);
  const [waiting, setWaiting] = useState(0);
  const [isDown, setDown] = useState(false);
  const [problem, setProblem] = useState("");

  const noted = useCallback(() => {
    if (queue.current.length) localStorage.setItem(key, JSON.stringify(queue.current));
    else localStorage.removeItem(key);
    setWaiting(queue.current.length);
  }, [key]);

  const send = useCallback(async () => {
    if (sending.current || id === undefined) return;
    sending.current = true;
    try {
      while (queue.current.length) {
        try {
          const answer = await call<Weighing>("POST", `/weighings/${id}/entries`, queue.current[0]);
          known.current = Math.max(known.current, answer.state.version);
          queue.current = queue.current.slice(1);
          kept.current(answer);
          setDown(false);
        } catch (error) {
          if (mayPassLater(error)) {
            if (error instanceof Refused) setProblem(error.message);
            setDown(true);
            break;
          }
          // Refused: it cannot follow what is there by now, nor can those made after it. Said, and not tried again.
          setProblem(error instanceof Refused ? error.message : (error as Error).message);
          queue.current = [];
        }
        noted();
      }
    } finally {
      sending.current = false;
    }
  }, [id, noted]);

  useEffect(() => {
    if (id === undefined) return;
    queue.current = JSON.parse(localStorage.getItem(key) ?? "[]") as Entry[];
    setWaiting(queue.current.length);
    void send();
    const timer = window.setInterval(() => queue.current.length && void send(), AGAIN_MS);
    return () => window.clearInterval(timer);
  }, [id, key, send]);

  const enter = useCallback(
    (event: WeighEvent) => {
      setProblem("");
      queue.current = [
        ...queue.current,
        { event_id: crypto.randomUUID(), after: known.current + queue.current.length, event },
      ];
      noted();
      void send();
    },
    [noted, send],
  );

  return { waiting, isDown, problem, enter };
}
