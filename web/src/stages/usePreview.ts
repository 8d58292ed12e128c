/** Figures that follow a hand: one question is under way at most, the newest follows it, and what lies
 *  between is never asked. */
import { tryPlan } from "../api/operations.generated";
import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from "react";
import type { Piece, Plan } from "../api/queries";
import { withBoundary, type Edge } from "../domain/boundaries";
import type { Edits } from "./usePieceEdits";

interface Question {
  body: Parameters<typeof tryPlan>[0];
  isTrial: boolean;
}

export interface Moved {
  layer: number;
  at: number;
}

/** Where a dragged boundary is. Apart from the other state, so that each step of a drag renders the drawing
 *  and nothing else. */
export class DraggedBoundary {
  private moved: Moved | null = null;
  private readonly heard = new Set<() => void>();
  readonly get = () => this.moved;
  readonly set = (moved: Moved | null) => {
    this.moved = moved;
    for (const tell of this.heard) tell();
  };
  readonly subscribe = (tell: () => void) => {
    this.heard.add(tell);
    return () => void this.heard.delete(tell);
  };
}

export function useDragged(boundary: DraggedBoundary): Moved | null {
  return useSyncExternalStore(boundary.subscribe, boundary.get);
}

/** shown: the plan to show, that of the drag or trial where there is one. */
export function usePreview(piece: Piece | undefined, plan: Plan | undefined, voidId: string, edits: Edits) {
  const [dragged] = useState(() => new DraggedBoundary());
  const [answer, setAnswer] = useState<Plan | null>(null);
  const [problem, setProblem] = useState("");
  const wanted = useRef<Question | null>(null);
  const asking = useRef(false);
  const turn = useRef(0);
  const [isTrial, setIsTrial] = useState(false);

  // A new stored plan is the truth again; what was asked of the one before has no answer any more.
  useEffect(() => {
    dragged.set(null);
    setAnswer(null);
    setIsTrial(false);
    turn.current += 1;
  }, [plan, dragged]);

  const ask = useCallback(async (question: Question) => {
    wanted.current = question;
    if (asking.current) return;
    asking.current = true;
    while (wanted.current) {
      const next: Question = wanted.current;
      wanted.current = null;
      const number = turn.current;
      try {
        const { plan: found } = await tryPlan(next.body);
        if (number !== turn.current) continue;
        setAnswer(found);
        setIsTrial(next.isTrial);
      } catch (error) {
        if (number === turn.current) setProblem((error as Error).message);
      }
    }
    asking.current = false;
  }, []);

  const move = useCallback(
    (edge: Edge, at: number, done: boolean, asTyped?: string) => {
      if (!piece || !plan) return Promise.resolve();
      dragged.set({ layer: edge.layer, at });
      setProblem("");
      if (!done) {
        const body = { piece: withBoundary(piece, plan, voidId, edge, at), in_full: false };
        void ask({ body, isTrial: false });
        return Promise.resolve();
      }
      wanted.current = null;
      return edits
        .edit("moved a layer boundary", (now) => withBoundary(now, plan, voidId, edge, at, asTyped))
        .catch((error: Error) => {
          dragged.set(null);
          setProblem(error.message);
          throw error;
        });
    },
    [piece, plan, voidId, ask, edits, dragged],
  );

  /** Something else of the piece under a hand: tried while it moves, kept when it is let go; whether it was. */
  const change = useCallback(
    (what: string, changed: (piece: Piece) => Piece, done: boolean): Promise<boolean> => {
      if (!piece) return Promise.resolve(false);
      setProblem("");
      if (!done) {
        void ask({ body: { piece: changed(piece), in_full: false }, isTrial: false });
        return Promise.resolve(true);
      }
      wanted.current = null;
      return edits.edit(what, changed).then(
        () => true,
        (error: Error) => {
          turn.current += 1;
          setAnswer(null);
          setProblem(error.message);
          return false;
        },
      );
    },
    [piece, ask, edits],
  );

  /** Another piece or room tried out: everything on the page shows the trial, nothing is kept. null puts it
   *  back. */
  const trial = useCallback(
    (tried: { piece: Piece; room_c: number | null } | null) => {
      setProblem("");
      if (tried) return void ask({ body: tried, isTrial: true });
      turn.current += 1;
      wanted.current = null;
      setAnswer(null);
      setIsTrial(false);
    },
    [ask],
  );

  const preview = useMemo(
    () => ({ dragged, move, change, problem, trial, isTrial }),
    [dragged, move, change, problem, trial, isTrial],
  );
  return [answer ?? plan, preview] as const;
}

export type Preview = ReturnType<typeof usePreview>[1];
