/** One run on this device: its script and log, what was tapped here and is not yet kept, and the run's own
 *  clock.
 *  Every tap waits in this device's outbox until the server has it; a repeat changes nothing there. */
import { handedIn } from "../../api/handing-in";
import { remember, remembered } from "../../api/memory";
import { readRun, readRunEvents, readSession, sendRunEvents } from "../../api/operations.generated";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Refused, setToken, Unreachable, type Schemas } from "../../api/client";
import { useOutbox } from "../../api/outbox";
import { usePhotos } from "../../api/photos";
import { fold, look, type Kept, type RunEvent } from "../../domain/run";
import { uuid } from "../../domain/uuid";

type Run = Schemas["RunAnswer"];
type Answer = Schemas["EventsAnswer"];
type Sent = Schemas["Sent"];
const LOOK_MS = 2000;
const TICK_MS = 250;

interface Clock {
  server: number;
  wall: number;
  steady: number;
  speed: number;
}

const FULL = "This device's storage is full: taps are kept only while the page is open.";
const MOST_AT_ONCE = 200;
/** The steady clock stands still while some devices sleep, the wall clock can be set: the one that has run
 *  on further. The server doubts what cannot be. */
function momentOf(clock: Clock): number {
  return clock.server + Math.max(performance.now() - clock.steady, Date.now() - clock.wall) * clock.speed;
}

const runKey = (run: number) => `cavatum-run-${run}`;

export function thisDevice(): string {
  const kept = remembered("session", "cavatum-device") ?? uuid();
  remember("session", "cavatum-device", kept);
  return kept;
}

/** This device's own count of what it said in a run. */
export function nextSeq(run: number): number {
  const key = `cavatum-seq-${run}-${thisDevice()}`;
  const seq = Number(remembered("session", key) ?? "0") + 1;
  remember("session", key, String(seq));
  return seq;
}

export function useRun(id: number) {
  const [run, setRun] = useState<Run | null>(
    () => JSON.parse(remembered("device", runKey(id)) ?? "null") as Run | null,
  );
  const [error, setError] = useState<Error | null>(null);
  const [isAway, setAway] = useState(false);
  const { waiting, isKept, add, refresh, done, refuse } = useOutbox<Sent>(`run/${id}`);
  const [problem, setProblem] = useState("");
  const [now, setNow] = useState(() => Date.now());
  const clock = useRef<Clock | null>(null);
  const busy = useRef(false);
  const parcel = useRef(MOST_AT_ONCE);
  const newest = useRef(run);

  const hear = useCallback(
    (answer: Answer, whole?: Run) => {
      clock.current = {
        server: +new Date(answer.now),
        wall: Date.now(),
        steady: performance.now(),
        speed: answer.speed,
      };
      const before = whole ?? newest.current;
      if (!before) return;
      const events = [
        ...new Map([...before.events, ...answer.events].map((one) => [one.number, one])).values(),
      ].sort((a, b) => a.number - b.number);
      const next: Run = {
        ...before,
        events,
        now: answer.now,
        speed: answer.speed,
        ended: answer.ended,
        troubles: answer.troubles ?? [],
      };
      newest.current = next;
      setRun(next);
      setNow(momentOf(clock.current));
      setAway(false);
      setError(null);
      const clockText = JSON.stringify({ server: answer.now, wall: Date.now(), speed: answer.speed });
      const isRunKept = remember("device", runKey(id), JSON.stringify(next));
      if (!remember("device", `${runKey(id)}-clock`, clockText) || !isRunKept) setProblem(FULL);
    },
    [id],
  );

  const sync = useCallback(async () => {
    if (busy.current) return;
    busy.current = true;
    let tried: Sent[] = [];
    try {
      if (!newest.current) {
        const whole = await readRun(id);
        hear(whole, whole);
      }
      const since = newest.current!.events.at(-1)?.number ?? 0;
      const said = (await refresh()).slice(0, parcel.current);
      tried = said;
      const answer = said.length
        ? await sendRunEvents(id, { since, events: said })
        : await readRunEvents(id, { since: since });
      parcel.current = MOST_AT_ONCE;
      hear(answer);
      void done(said);
    } catch (failure) {
      if (failure instanceof Unreachable) setAway(true);
      else if (failure instanceof Refused && failure.problem.status === 401) {
        const said = tried.length ? await handedIn({ runs: [{ run_id: id, events: tried }] }) : null;
        if (said) void done(tried);
        setProblem(
          said ??
            "This device is no longer let in. Taps are kept here and sent once you have logged in again.",
        );
      } else if (failure instanceof Refused && failure.problem.status === 403)
        void readSession()
          .then((session) => {
            setToken(session.csrf_token);
            if (session.role === "viewer") setProblem(failure.message);
          })
          .catch(() => setAway(true));
      else if (failure instanceof Refused && failure.problem.status < 500) {
        // One that is refused must not hold up the others: they go one by one, and it is kept aside and said.
        if (tried.length > 1) parcel.current = 1;
        else if (tried[0] && [413, 422].includes(failure.problem.status))
          void refuse(tried[0], failure.message);
        setProblem(failure.message);
        setError(failure);
      } else setAway(true);
    } finally {
      busy.current = false;
    }
  }, [hear, id, refresh, done, refuse]);

  useEffect(() => {
    const kept = JSON.parse(remembered("device", `${runKey(id)}-clock`) ?? "null") as {
      server: string;
      wall: number;
      speed: number;
    } | null;
    if (kept && !clock.current)
      clock.current = {
        server: +new Date(kept.server),
        wall: kept.wall,
        steady: performance.now() - (Date.now() - kept.wall),
        speed: kept.speed,
      };
    void sync();
    const looking = window.setInterval(() => void sync(), LOOK_MS);
    // The run's moment: the server's at the last word from it, carried on by this device.
    const ticking = window.setInterval(
      () => setNow(clock.current ? momentOf(clock.current) : Date.now()),
      TICK_MS,
    );
    return () => {
      window.clearInterval(looking);
      window.clearInterval(ticking);
    };
  }, [id, sync]);

  const say = useCallback(
    (event: RunEvent, entered_at?: number) => {
      const seq = nextSeq(id);
      const now_at = clock.current ? momentOf(clock.current) : Date.now();
      const at = entered_at ?? now_at;
      const sent: Sent = {
        event_id: uuid(),
        device: thisDevice(),
        seq,
        at: new Date(at).toISOString(),
        device_at: new Date().toISOString(),
        who: remembered("device", "cavatum-who") ?? "",
        entered: entered_at !== undefined,
        event,
      };
      setNow(now_at);
      void add(sent);
      void sync();
      return sent.event_id;
    },
    [id, add, sync],
  );

  const events = useMemo<Kept[]>(() => {
    const kept = run?.events ?? [];
    const known = new Set(kept.map((one) => one.event_id));
    const last = kept.at(-1)?.number ?? 0;
    return [
      ...kept,
      ...waiting
        .filter((one) => !known.has(one.event_id))
        .map((one, index): Kept => ({
          ...one,
          who: one.who ?? "",
          number: last + 1 + index,
          received_at: one.at,
          doubted: false,
        })),
    ];
  }, [run, waiting]);
  const state = useMemo(() => (run ? fold(run.script, events) : null), [run, events]);
  const view = run && state ? look(run.script, state, now) : null;

  const photos = usePhotos(id, (sha256, step) => say({ kind: "photo", sha256, step }));

  return {
    run,
    state,
    view,
    photos,
    events,
    now,
    say,
    sync,
    error,
    isAway,
    waiting: waiting.length,
    problem: problem || (isKept ? "" : FULL),
  };
}

export type OpenRun = ReturnType<typeof useRun>;
