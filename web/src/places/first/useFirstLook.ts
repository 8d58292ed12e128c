/** The answer to what is typed: one question is under way at most, and the newest follows it. */
import { useEffect, useRef, useState } from "react";
import { Refused, type FieldProblem } from "../../api/client";
import { firstLook } from "../../api/operations.generated";
import type { FirstAnswer, FirstLook } from "./benches";

interface Heard {
  look: FirstLook;
  answer: FirstAnswer | null;
  problem: FieldProblem | null;
}

const unknown = (message: string): FieldProblem => ({
  pointer: "",
  message,
  value: "",
  way_out: "",
  code: "",
  choices: [],
});

/** answer: the last one that could be given for this kind of work; problem: why there is no newer one. settings:
 *  of the workshop, as far as the answer rests on them: other ones are another question. */
export function useFirstLook(look: FirstLook, settings: string) {
  const [heard, setHeard] = useState<Heard | null>(null);
  const wanted = useRef<FirstLook | null>(null);
  const asking = useRef(false);
  useEffect(() => {
    wanted.current = look;
    if (asking.current) return;
    asking.current = true;
    void (async () => {
      while (wanted.current) {
        const next: FirstLook = wanted.current;
        wanted.current = null;
        try {
          const answer = await firstLook(next);
          setHeard({ look: next, answer, problem: null });
        } catch (error) {
          const problem =
            (error instanceof Refused ? error.problem.problems?.[0] : null) ??
            unknown((error as Error).message);
          setHeard((before) => ({ look: next, answer: before?.answer ?? null, problem }));
        }
      }
      asking.current = false;
    })();
  }, [look, settings]);
  const mine = heard?.look.bench === look.bench ? heard : null;
  return {
    answer: mine?.answer ?? null,
    problem: mine?.problem ?? null,
    // what is shown belongs to what was typed before
    isLate: heard?.look !== look,
  };
}
