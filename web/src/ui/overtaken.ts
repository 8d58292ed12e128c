import { useRef } from "react";

/** What a field knows of: the value that stood there when typing began, and those it sent since, whose answers may
 *  still be on their way. Any other that stands there now came from another device. */
export function useKnown<T>(same: (one: T, other: T) => boolean = Object.is) {
  const known = useRef<T[]>([]);
  return {
    begin: (there: T) => void known.current.push(there),
    send: (value: T) => void known.current.push(value),
    /** Nothing is on its way any more. */
    settle: () => void (known.current = []),
    isOvertaken: (there: T) => !known.current.some((one) => same(one, there)),
  };
}

/** Another device changed the same field while it was typed in: which holds is the person's to say. */
export function keepsMine(label: string, theirs: string, mine: string): boolean {
  return window.confirm(
    `Changed on another device while you typed:\n${label}: “${theirs}” there, “${mine}” here\n\n` +
      "OK keeps yours, Cancel keeps theirs.",
  );
}
