/** All keys, and the words on the screen. */
import { Dialog } from "radix-ui";
import { GLOSSARY } from "../domain/glossary";

const KEYS: [string, string][] = [
  ["1 – 9", "Survey, Measure, Resin, Layers, Mix, Clock, Pour, Finish, Log of the open piece"],
  ["s, c", "of an open piece: the section, the clock, larger and smaller"],
  ["/", "search the pieces"],
  ["n", "new piece"],
  [
    "arrow keys",
    "nudge a boundary, the fill line, a film, the start or the time cursor; Shift for ten times",
  ],
  ["Ctrl Z, Ctrl Shift Z", "undo, do again"],
  ["Space, Page Down", "bench mode: go on (a foot pedal sends these)"],
  ["Page Up, u", "bench mode: undo the last"],
  ["m", "bench mode: something is wrong"],
  ["?", "these keys and words"],
];

export function KeysSheet() {
  return (
    <>
      <Dialog.Title className="mb-3">Keys</Dialog.Title>
      <Rows rows={KEYS} />
      <h2 className="mt-6 mb-2">Words on the screen</h2>
      <Rows rows={GLOSSARY} />
      <Dialog.Close className="key mt-5">Close</Dialog.Close>
    </>
  );
}

function Rows({ rows }: { rows: [string, string][] }) {
  return (
    <dl className="grid grid-cols-[150px_1fr] gap-x-2 gap-y-1.5">
      {rows.map(([word, what]) => (
        <div key={word} className="contents">
          <dt className="font-semibold">{word}</dt>
          <dd>{what}</dd>
        </div>
      ))}
    </dl>
  );
}
