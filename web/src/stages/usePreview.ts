/** Figures that follow a drag: the server is asked for the latest position only, and the latest answer wins. */
import { tryPlan } from "../api/operations.generated";
import { useCallback, useEffect, useRef, useState } from "react";
import type { Piece, Plan } from "../api/queries";
import { withBoundary, type Edge } from "../domain/boundaries";
import type { Edits } from "./usePieceEdits";

export interface Moved {
  layer: number;
  at: number;
}

export function usePreview(piece: Piece | undefined, plan: Plan | undefined, voidId: string, edits: Edits) {
  const [moved, setMoved] = useState<Moved | null>(null);
  const [answer, setAnswer] = useState<Plan | null>(null);
  const [problem, setProblem] = useState("");
  const wanted = useRef<Piece | null>(null);
  const asking = useRef(false);
  const turn = useRef(0);
  const [isTrial, setIsTrial] = useState(false);

  // A new stored plan is the truth again.
  useEffect(() => {
    setMoved(null);
    setAnswer(null);
    setIsTrial(false);
    turn.current += 1;
  }, [plan]);

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
      setMoved({ layer: edge.layer, at });
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
          setMoved(null);
          setProblem(error.message);
          throw error;
        });
    },
    [piece, plan, voidId, ask, edits],
  );

  /** Another piece or room tried out: everything on the page shows the trial, nothing is kept. null puts it back. */
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

  return { shown: answer ?? plan, moved, move, problem, trial, isTrial };
}
