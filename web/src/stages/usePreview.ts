/** Figures that follow a drag: the server is asked for the latest position only, and the latest answer
 *  wins. */
import { tryPlan } from "../api/operations.generated";
import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from "react";
import type { Piece, Plan } from "../api/queries";
import { withBoundary, type Edge } from "../domain/boundaries";
import type { Edits } from "./usePieceEdits";

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
  const wanted = useRef<Piece | null>(null);
  const asking = useRef(false);
  const turn = useRef(0);
  const [isTrial, setIsTrial] = useState(false);

  // A new stored plan is the truth again.
  useEffect(() => {
    dragged.set(null);
    setAnswer(null);
    setIsTrial(false);
    turn.current += 1;
  }, [plan, dragged]);

  const ask = useCallback(async () => {
    if (asking.current) return;
    asking.current = true;
    try {
      while (wanted.current) {
        const next = wanted.current;
        wanted.current = null;
        const { plan: tried } = await tryPlan({
          piece: next,
          in_full: false,
        });
        setAnswer(tried);
      }
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      asking.current = false;
    }
  }, []);

  const move = useCallback(
    (edge: Edge, at: number, done: boolean, asTyped?: string) => {
      if (!piece || !plan) return Promise.resolve();
      dragged.set({ layer: edge.layer, at });
      setProblem("");
      if (!done) {
        wanted.current = withBoundary(piece, plan, voidId, edge, at);
        void ask();
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

  /** Another piece or room tried out: everything on the page shows the trial, nothing is kept. null puts it
   *  back. */
  const trial = useCallback(async (tried: { piece: Piece; room_c: number | null } | null) => {
    setProblem("");
    const number = ++turn.current;
    if (!tried) {
      setAnswer(null);
      setIsTrial(false);
      return;
    }
    try {
      const { plan: found } = await tryPlan(tried);
      if (number !== turn.current) return;
      setAnswer(found);
      setIsTrial(true);
    } catch (error) {
      if (number === turn.current) setProblem((error as Error).message);
    }
  }, []);

  const preview = useMemo(
    () => ({ dragged, move, problem, trial, isTrial }),
    [dragged, move, problem, trial, isTrial],
  );
  return [answer ?? plan, preview] as const;
}

export type Preview = ReturnType<typeof usePreview>[1];
