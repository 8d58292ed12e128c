/** Figures that follow a drag: the server is asked for the latest position only, and the latest answer wins. */
import { useCallback, useEffect, useRef, useState } from "react";
import { call, type Schemas } from "../api/client";
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

  // A new stored plan is the truth again.
  useEffect(() => {
    setMoved(null);
    setAnswer(null);
  }, [plan]);

  const ask = useCallback(async () => {
    if (asking.current) return;
    asking.current = true;
    try {
      while (wanted.current) {
        const next = wanted.current;
        wanted.current = null;
        const { plan: tried } = await call<Schemas["PlanAnswer"]>("POST", "/pieces/try", { piece: next });
        setAnswer(tried);
      }
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      asking.current = false;
    }
  }, []);

  const move = useCallback((edge: Edge, at: number, done: boolean, asTyped?: string) => {
    if (!piece || !plan) return Promise.resolve();
    setMoved({ layer: edge.layer, at });
    setProblem("");
    if (!done) {
      wanted.current = withBoundary(piece, plan, voidId, edge, at);
      void ask();
      return Promise.resolve();
    }
    wanted.current = null;
    return edits.edit("moved a layer boundary", (now) => withBoundary(now, plan, voidId, edge, at, asTyped)).catch((error: Error) => {
      setMoved(null);
      setProblem(error.message);
      throw error;
    });
  }, [piece, plan, voidId, ask, edits]);

  return { shown: answer ?? plan, moved, move, problem };
}
