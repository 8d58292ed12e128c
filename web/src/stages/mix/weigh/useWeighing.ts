/** One batch at the scale: begun or found open, looked at four times a second, its entries kept once even
 *  when the line drops. */
import { handedIn } from "../../../api/handing-in";
import { remember, remembered } from "../../../api/memory";
import { beginWeighing, enterWeighing, readWeighing } from "../../../api/operations.generated";
import { useCallback, useEffect, useRef, useState } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { mayPassLater, Refused, Unreachable, type Schemas } from "../../../api/client";
import { useOutbox } from "../../../api/outbox";
import { uuid } from "../../../domain/uuid";
import { useLatest } from "../../../ui/useLatest";

export type Weighing = Schemas["WeighingAnswer"];
export type WeighEvent = Schemas["EntryBody"]["event"];
const LOOK_MS = 250;
const AGAIN_MS = 2000;
const FULL = "This device keeps nothing: what is weighed here is kept only while the page is open.";

interface Taken {
  event_id: string;
  after: number;
  event: WeighEvent;
}

const keyOf = (pieceId: number, pour: number, batch: number) =>
  `cavatum-weighing/${pieceId}/${pour}/${batch}`;

/** The open batch; where the server does not answer, as this device last saw it: the targets stand, entries wait. */
async function begunOrKept(pieceId: number, pour: number, batch: number): Promise<Weighing> {
  try {
    return await beginWeighing(pieceId, { pour, batch });
  } catch (failure) {
    const kept = failure instanceof Unreachable ? remembered("device", keyOf(pieceId, pour, batch)) : null;
    if (kept === null) throw failure;
    const seen = JSON.parse(kept) as Weighing;
    return { ...seen, live: { ...seen.live, connected: false, net_kg: null, gross_kg: null } };
  }
}

/** The one that has more entries; the second where they have the same (its reading is newer). */
export function newerOf(before: Weighing | undefined, after: Weighing): Weighing {
  return before && before.id === after.id && before.state.version > after.state.version ? before : after;
}

/** weighing: null until the server has answered. waiting: entries on their way; isLost: the server does not
 *  answer. */
export function useWeighing(pieceId: number, pour: number, batch: number) {
  const client = useQueryClient();
  const begun = useQuery({
    queryKey: ["weighing-of", pieceId, pour, batch],
    queryFn: () => begunOrKept(pieceId, pour, batch),
    staleTime: Infinity,
    retry: 2,
    refetchOnWindowFocus: false,
  });
  const id = begun.data?.id;
  const looked = useQuery({
    queryKey: ["weighing", id],
    queryFn: () => readWeighing(id!),
    retry: false, // looked at again at once: that nobody answers is said, not waited for
    enabled: id !== undefined,
    initialData: begun.data,
    refetchInterval: (query) => (query.state.data?.state.ended ? false : LOOK_MS),
    refetchIntervalInBackground: true,
    staleTime: 0,
    // A look that left before an entry was kept may arrive after it: the weighing never goes back.
    structuralSharing: (before, after) => newerOf(before as Weighing | undefined, after as Weighing),
  });
  const { waiting, isWeightWaiting, isDown, problem, enter } = useEntries(
    id,
    looked.data?.state.version ?? 0,
    (answer) => client.setQueryData(["weighing", id], answer),
  );
  const seen = looked.data;
  useEffect(() => {
    if (seen) remember("device", keyOf(pieceId, pour, batch), JSON.stringify(seen));
  }, [seen?.id, seen?.state.version, pieceId, pour, batch]); // eslint-disable-line react-hooks/exhaustive-deps
  return {
    weighing: looked.data,
    error: begun.error,
    isLost: looked.isError || isDown,
    waiting,
    isWeightWaiting,
    problem,
    enter,
  };
}

/** Entries in the order they were made, one after the other. What cannot be sent is kept on this device and
 *  sent again, under the same id. */
function useEntries(id: number | undefined, version: number, onKept: (answer: Weighing) => void) {
  const outbox = useOutbox<Taken>(id === undefined ? null : `weighing/${id}`);
  const { add, current, refresh, done, refuse } = outbox;
  const known = useRef(0); // entries that the server is known to have
  const sending = useRef(false);
  const kept = useLatest(onKept);
  useEffect(() => {
    known.current = Math.max(known.current, version);
  }, [version]);
  const [isDown, setDown] = useState(false);
  const [problem, setProblem] = useState("");

  const send = useCallback(async () => {
    if (sending.current || id === undefined) return;
    sending.current = true;
    try {
      for (let next = current()[0]; next; next = current()[0]) {
        try {
          const answer = await enterWeighing(id, next);
          known.current = Math.max(known.current, answer.state.version);
          void done([next]);
          kept.current(answer);
          setDown(false);
        } catch (error) {
          if (error instanceof Refused && error.problem.status === 401) {
            const all = current().slice();
            const said = await handedIn({ weighings: [{ weighing_id: id, entries: all }] });
            if (said) void done(all);
            setProblem(said ?? error.message);
            setDown(true);
            break;
          }
          if (mayPassLater(error)) {
            if (error instanceof Refused) setProblem(error.message);
            setDown(true);
            break;
          }
          // Refused: it cannot follow what is there by now, nor can those made after it. Said, and not tried
          // again.
          const why = (error as Error).message;
          setProblem(why);
          for (const one of current().slice()) void refuse(one, why);
        }
      }
    } finally {
      sending.current = false;
    }
  }, [id, current, done, refuse, kept]);

  useEffect(() => {
    if (id === undefined) return;
    const again = () => void refresh().then((left) => (left.length ? send() : undefined));
    again();
    const timer = window.setInterval(again, AGAIN_MS);
    return () => window.clearInterval(timer);
  }, [id, refresh, send]);

  const enter = useCallback(
    (event: WeighEvent) => {
      setProblem("");
      void add({ event_id: uuid(), after: known.current + current().length, event });
      void send();
    },
    [add, current, send],
  );

  return {
    waiting: outbox.waiting.length,
    // Whose part the next weight is turns on this one: until it is kept, none is taken.
    isWeightWaiting: outbox.waiting.some((one) => one.event.kind === "taken"),
    isDown,
    problem: problem || (outbox.isKept ? "" : FULL),
    enter,
  };
}
