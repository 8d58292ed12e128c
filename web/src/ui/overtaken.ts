/** Another device changed the same field while it was typed in: which holds is the person's to say. */
export function keepsMine(label: string, theirs: string, mine: string): boolean {
  return window.confirm(
    `Changed on another device while you typed:\n${label}: “${theirs}” there, “${mine}” here\n\n` +
      "OK keeps yours, Cancel keeps theirs.",
  );
}
