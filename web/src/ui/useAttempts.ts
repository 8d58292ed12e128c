/** What the last thing asked for came to: its word, or why it failed. An answer that comes after something
 *  newer was asked says nothing any more. */
import { useRef, useState } from "react";

export function useAttempts() {
  const [told, setTold] = useState("");
  const [problem, setProblem] = useState("");
  const newest = useRef(0);
  const attempt = async (work: () => Promise<string | void>) => {
    const mine = ++newest.current;
    const show = (word: string, wrong: string) => {
      if (mine !== newest.current) return;
      setTold(word);
      setProblem(wrong);
    };
    try {
      show((await work()) ?? "", "");
    } catch (error) {
      show("", (error as Error).message);
    }
  };
  return { told, problem, attempt };
}
