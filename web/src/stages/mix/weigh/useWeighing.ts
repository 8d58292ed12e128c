/** One batch at the scale: begun or found open, looked at four times a second, its entries kept once even when the line drops. */
import { useCallback, useEffect, useRef, useState } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { call, Refused, Unreachable, type Schemas } from "../../../api/client";

export type Weighing = Schemas["WeighingAnswer"];
export type WeighEvent = Schemas["EntryBody"]["event"];
const LOOK_MS = 250;
const AGAIN_MS = 2000;

interface Entry {
  event_id: string;
  after: number;
  event: WeighEvent;
}

/** begun: which weighing; null until the server has answered. waiting: entries not sent yet. */
export function useWeighing(pieceId: number, pour: number, batch: number) {
  const client = useQueryClient();
  const begun = useQuery({
    queryKey: ["weighing-of", pieceId, pour, batch],
    queryFn: () => call<Weighing>("POST", `/pieces/${pieceId}/weighings`, { pour, batch }),
    staleTime: Infinity, retry: 2, refetchOnWindowFocus: false,
  });
  const id = begun.data?.id;
  const looked = useQuery({
    queryKey: ["weighing", id],
    queryFn: () => call<Weighing>("GET", `/weighings/${id}`),
    enabled: id !== undefined, initialData: begun.data,
    refetchInterval: (query) => (query.state.data?.state.ended ? false : LOOK_MS), refetchIntervalInBackground: true, staleTime: 0,
  });
  const { waiting, problem, enter, clear } = useEntries(id, (answer) => client.setQueryData(["weighing", id], answer));
  return { weighing: looked.data, error: begun.error, isLost: looked.isError, waiting, problem, enter, clear };
}

/** Entries in the order they were made. What cannot be sent is kept on this device and sent again, under the same id. */
function useEntries(id: number | undefined, onKept: (answer: Weighing) => void) {
  const key = `cavatum-weighing-${id}`;
  const [waiting, setWaiting] = useState<Entry[]>([]);
  const [problem, setProblem] = useState("");
  const sending = useRef(false);
  const kept = useRef(onKept);
  kept.current = onKept;

  useEffect(() => {
    if (id === undefined) return;
    const left = localStorage.getItem(key);
    if (left) setWaiting(JSON.parse(left) as Entry[]);
  }, [id, key]);

  const send = useCallback(async (entries: Entry[]) => {
    if (sending.current || id === undefined) return;
    sending.current = true;
    let left = entries;
    try {
      while (left.length) {
        try {
          kept.current(await call<Weighing>("POST", `/weighings/${id}/entries`, left[0]));
          setProblem("");
        } catch (error) {
          if (error instanceof Unreachable) break;
          // Refused: it cannot follow what is there by now. Said, and not tried again.
          setProblem(error instanceof Refused ? error.message : (error as Error).message);
        }
        left = left.slice(1);
      }
    } finally {
      sending.current = false;
      if (left.length) localStorage.setItem(key, JSON.stringify(left));
      else localStorage.removeItem(key);
      setWaiting(left);
    }
  }, [id, key]);

  useEffect(() => {
    if (!waiting.length) return;
    const timer = window.setTimeout(() => void send(waiting), AGAIN_MS);
    return () => window.clearTimeout(timer);
  }, [waiting, send]);

  const enter = useCallback((event: WeighEvent, version: number) => {
    setProblem("");
    const entry: Entry = { event_id: crypto.randomUUID(), after: version + waiting.length, event };
    const all = [...waiting, entry];
    localStorage.setItem(key, JSON.stringify(all));
    void send(all);
  }, [key, send, waiting]);

  return { waiting, problem, enter, clear: () => setProblem("") };
}
