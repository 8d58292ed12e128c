/** What was done on this device and the server has not yet answered for, in the order it was done. One
 *  outbox for the taps of a run and
 *  for what is taken at the scale: kept in IndexedDB, so that it outlives the page, the browser and a
 *  dead battery. Where the device keeps
 *  nothing (storage full or forbidden) entries live as long as the page does, and `isKept` says so. */
import { useCallback, useEffect, useRef, useState } from "react";
import { openDB, type DBSchema, type IDBPDatabase } from "idb";

export interface Entry {
  event_id: string;
}
interface Row {
  of: string;
  entry: Entry;
}
interface Refusal extends Row {
  why: string;
}
interface Schema extends DBSchema {
  waiting: { key: number; value: Row; indexes: { of: string } };
  refused: { key: number; value: Refusal };
}

let opened: Promise<IDBPDatabase<Schema>> | null = null;

function database(): Promise<IDBPDatabase<Schema>> {
  opened ??= openDB<Schema>("cavatum-outbox", 1, {
    upgrade(db) {
      db.createObjectStore("waiting", { autoIncrement: true }).createIndex("of", "of");
      db.createObjectStore("refused", { autoIncrement: true });
    },
    terminated() {
      opened = null;
    },
  }).catch((failure: unknown) => {
    opened = null; // asked again with the next entry
    throw failure;
  });
  return opened;
}

/** Closes the database; the next use opens it again. For tests, which begin with an empty one. */
export async function close(): Promise<void> {
  (await opened?.catch(() => null))?.close();
  opened = null;
}

async function store(of: string, entry: Entry): Promise<void> {
  const written = (await database()).transaction("waiting", "readwrite", { durability: "strict" });
  await Promise.all([written.store.add({ of, entry }), written.done]);
}

async function stored(of: string): Promise<Entry[]> {
  return (await (await database()).getAllFromIndex("waiting", "of", of)).map((row) => row.entry);
}

async function drop(of: string, gone: ReadonlySet<string>): Promise<void> {
  const written = (await database()).transaction("waiting", "readwrite");
  let row = await written.store.index("of").openCursor(of);
  while (row) {
    if (gone.has(row.value.entry.event_id)) await row.delete();
    row = await row.continue();
  }
  await written.done;
}

/** Entries that releases up to 0.7 kept in localStorage: taken over once, then removed there. */
async function takeOver(of: string): Promise<void> {
  const [kind, id] = of.split("/");
  const found: [string, Entry[]][] = [];
  try {
    for (let index = 0; index < localStorage.length; index += 1) {
      const key = localStorage.key(index) ?? "";
      const text = localStorage.getItem(key) ?? "null";
      if (kind === "run" && key.startsWith(`cavatum-said-${id}-`)) found.push([key, [JSON.parse(text)]]);
      if (kind === "weighing" && key === `cavatum-weighing-${id}`) found.push([key, JSON.parse(text)]);
    }
  } catch {
    return; // a device that forbids localStorage has kept nothing there
  }
  const at = (entry: Entry) => (entry as { at?: string }).at ?? "";
  const rows = found.map(([, entries]) => entries).flat();
  for (const entry of rows.sort((a, b) => at(a).localeCompare(at(b)))) await store(of, entry);
  for (const [key] of found) localStorage.removeItem(key);
}

export interface Outbox<T extends Entry> {
  /** As last read; `current()` is the same without waiting for the next rendering. */
  waiting: T[];
  current: () => T[];
  /** False once an entry could be kept only in the open page. */
  isKept: boolean;
  add: (entry: T) => Promise<void>;
  /** Reads again what any page of this device has left here. */
  refresh: () => Promise<T[]>;
  done: (entries: readonly T[]) => Promise<void>;
  /** One that the server refuses for good is kept apart, with its reason, and waits no more. */
  refuse: (entry: T, why: string) => Promise<void>;
}

/** of: "run/12" or "weighing/7"; null as long as it is not known. */
export function useOutbox<T extends Entry>(of: string | null): Outbox<T> {
  const [waiting, setWaiting] = useState<T[]>([]);
  const [isKept, setKept] = useState(true);
  const known = useRef<T[]>([]);
  /** Entries that are only here: not yet written, or never to be. */
  const inPage = useRef(new Map<string, T>());
  const gone = useRef(new Set<string>());
  /** One use of the database after the other: nothing is taken out before it is in. */
  const line = useRef<Promise<unknown>>(Promise.resolve());
  const inLine = useCallback(<R>(work: () => Promise<R>): Promise<R> => {
    const next = line.current.then(work);
    line.current = next.catch(() => undefined);
    return next;
  }, []);

  const show = useCallback((entries: T[]) => {
    known.current = entries;
    setWaiting(entries);
    return entries;
  }, []);

  const refresh = useCallback(async () => {
    if (of === null) return [];
    const rows = (await inLine(() => stored(of)).catch(() => [])) as T[];
    const ids = new Set(rows.map((one) => one.event_id));
    const all = [...rows, ...[...inPage.current.values()].filter((one) => !ids.has(one.event_id))];
    return show(all.filter((one) => !gone.current.has(one.event_id)));
  }, [of, show, inLine]);

  useEffect(() => {
    if (of === null) return;
    void inLine(() => takeOver(of)).catch(() => undefined);
    void refresh();
  }, [of, refresh, inLine]);

  const add = useCallback(
    async (entry: T) => {
      inPage.current.set(entry.event_id, entry);
      show([...known.current, entry]);
      if (of === null) return;
      try {
        await inLine(() => store(of, entry));
        inPage.current.delete(entry.event_id);
      } catch {
        setKept(false);
      }
    },
    [of, show, inLine],
  );

  const done = useCallback(
    async (entries: readonly T[]) => {
      if (!entries.length) return;
      const ids = new Set(entries.map((one) => one.event_id));
      for (const id of ids) {
        gone.current.add(id);
        inPage.current.delete(id);
      }
      show(known.current.filter((one) => !ids.has(one.event_id)));
      // What could not be taken out is sent again one day, and changes nothing there.
      if (of !== null) await inLine(() => drop(of, ids)).catch(() => undefined);
    },
    [of, show, inLine],
  );

  const refuse = useCallback(
    async (entry: T, why: string) => {
      const taken = done([entry]);
      if (of !== null)
        await inLine(async () => (await database()).add("refused", { of, entry, why })).catch(
          () => undefined, // the refusal itself is shown; there is no room for more
        );
      await taken;
    },
    [of, done, inLine],
  );

  const current = useCallback(() => known.current, []);
  return { waiting, current, isKept, add, refresh, done, refuse };
}
