/** Edits of one piece: shown at once, saved in order with a version check, refused ones given back to their
 *  field. */
import { redoPiece, savePiece, undoPiece } from "../api/operations.generated";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useRef, useState } from "react";
import { Refused, Unreachable, type Schemas } from "../api/client";
import { keys, type Piece, type Stored } from "../api/queries";

export interface Conflict {
  head: number;
  merged: Piece;
  clashes: Schemas["Clash"][];
  what: string;
}

export type SaveState = "saved" | "saving" | "waiting for the server";
const AGAIN_MS = 2_000;

export function usePieceEdits(id: number) {
  const client = useQueryClient();
  const [state, setState] = useState<SaveState>("saved");
  const [conflict, setConflict] = useState<Conflict | null>(null);
  const [told, setTold] = useState("");
  const queue = useRef<Promise<unknown>>(Promise.resolve());

  const take = useCallback(
    (stored: Stored) => {
      client.setQueryData(keys.piece(id), stored);
      void client.invalidateQueries({ queryKey: keys.pieces });
      void client.invalidateQueries({ queryKey: keys.bench });
      if (stored.merged) setTold("Also changed on another device: both edits are in.");
    },
    [client, id],
  );

  /** Run one change after those before it; while the server is away it is tried again and again. */
  const inOrder = useCallback(<T>(work: () => Promise<T>): Promise<T> => {
    const run = async (): Promise<T> => {
      setState("saving");
      for (;;) {
        try {
          const result = await work();
          setState("saved");
          return result;
        } catch (error) {
          if (!(error instanceof Unreachable)) {
            setState("saved");
            throw error;
          }
          setState("waiting for the server");
          await new Promise((resolve) => setTimeout(resolve, AGAIN_MS));
        }
      }
    };
    const next = queue.current.then(run, run);
    queue.current = next.catch(() => undefined);
    return next;
  }, []);

  const edit = useCallback(
    (what: string, change: (piece: Piece) => Piece) =>
      inOrder(async () => {
        const before = client.getQueryData<Stored>(keys.piece(id));
        if (!before) throw new Error("The piece is not open.");
        const piece = change(before.piece);
        await client.cancelQueries({ queryKey: keys.piece(id) });
        try {
          take(await savePiece(id, { base_revision: before.revision, piece, what }));
        } catch (error) {
          if (!(error instanceof Refused) || error.problem.status !== 409) throw error;
          const { head, merged, clashes } = error.problem;
          if (!head || !merged) throw error;
          setConflict({ head, merged, clashes: clashes ?? [], what });
        }
      }),
    [client, id, inOrder, take],
  );

  const step = useCallback(
    (which: "undo" | "redo") =>
      inOrder(async () => {
        const before = client.getQueryData<Stored>(keys.piece(id));
        if (!before || !(which === "undo" ? before.can_undo : before.can_redo)) return;
        const again = which === "undo" ? undoPiece : redoPiece;
        take(await again(id, { base_revision: before.revision }));
      }),
    [client, id, inOrder, take],
  );

  /** Save the joined piece with what the person chose for each clash. */
  const settle = useCallback(
    (piece: Piece) =>
      inOrder(async () => {
        if (!conflict) return;
        take(
          await savePiece(id, {
            base_revision: conflict.head,
            piece,
            what: `${conflict.what}, settled`,
          }),
        );
        setConflict(null);
      }),
    [conflict, id, inOrder, take],
  );

  const hush = useCallback(() => setTold(""), []);
  return useMemo(
    () => ({ edit, step, settle, conflict, state, told, hush }),
    [edit, step, settle, conflict, state, told, hush],
  );
}

export type Edits = ReturnType<typeof usePieceEdits>;
