/** Photos of a run that the server has not taken yet: kept on the device with the step they belong to, through a
 *  reload, and sent when there is a network again. */
import { openDB, type DBSchema, type IDBPDatabase } from "idb";
import { useCallback, useEffect, useRef, useState } from "react";
import { useLatest } from "../ui/useLatest";
import { mayPassLater } from "./client";
import { keepFile } from "./operations.generated";

interface Photo {
  run: number;
  step: string;
  name: string;
  file: Blob;
}
interface Schema extends DBSchema {
  photos: { key: number; value: Photo; indexes: { run: number } };
}

const AGAIN_MS = 10_000;
let opened: Promise<IDBPDatabase<Schema>> | null = null;

function database(): Promise<IDBPDatabase<Schema>> {
  opened ??= openDB<Schema>("cavatum-photos", 1, {
    upgrade(db) {
      db.createObjectStore("photos", { autoIncrement: true }).createIndex("run", "run");
    },
    terminated() {
      opened = null;
    },
  }).catch((failure: unknown) => {
    opened = null;
    throw failure;
  });
  return opened;
}

/** Closes the database; for tests, which begin with an empty one. */
export async function close(): Promise<void> {
  (await opened?.catch(() => null))?.close();
  opened = null;
}

/** waiting: photos kept here; add: keeps one and sends it as soon as it can, and says whether it is gone; problem: what a photo was refused for, or
 *  that this device keeps nothing. */
export function usePhotos(run: number, onSent: (sha256: string, step: string) => void) {
  const [waiting, setWaiting] = useState(0);
  const [problem, setProblem] = useState("");
  const sent = useLatest(onSent);
  const queue = useRef(Promise.resolve());

  const send = useCallback((): Promise<void> => {
    // One after the other: a photo taken while others go is sent after them.
    queue.current = queue.current.then(async () => {
      try {
        const db = await database();
        for (const key of await db.getAllKeysFromIndex("photos", "run", run)) {
          const photo = await db.get("photos", key);
          if (!photo) continue;
          try {
            const kept = await keepFile(photo.file, { name: photo.name });
            sent.current(kept.sha256, photo.step);
          } catch (failure) {
            if (mayPassLater(failure)) break;
            setProblem((failure as Error).message); // refused: no photo, or too large
          }
          await db.delete("photos", key);
        }
        setWaiting(await db.countFromIndex("photos", "run", run));
      } catch {
        // no database on this device: add says so
      }
    });
    return queue.current;
  }, [run, sent]);

  useEffect(() => {
    void send();
    const timer = window.setInterval(() => void send(), AGAIN_MS);
    const now = () => void send();
    window.addEventListener("online", now);
    return () => {
      window.clearInterval(timer);
      window.removeEventListener("online", now);
    };
  }, [send]);

  const add = useCallback(
    async (file: File, step: string): Promise<boolean> => {
      setProblem("");
      let key: number;
      try {
        key = await (await database()).add("photos", { run, step, name: file.name.slice(-120), file });
        setWaiting((now) => now + 1);
      } catch {
        setProblem("This device has no room to keep the photo: it is sent at once or not at all.");
        const kept = await keepFile(file, { name: file.name.slice(-120) });
        sent.current(kept.sha256, step);
        return true;
      }
      await send();
      return (await (await database()).get("photos", key)) === undefined;
    },
    [run, send, sent],
  );
  return { waiting, problem, add };
}
