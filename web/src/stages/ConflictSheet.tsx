/** Two devices changed the same value: both are shown, the person chooses, nothing else is lost. */
import { Dialog } from "radix-ui";
import { useState } from "react";
import { pointerWords, setAt, valueWords } from "../domain/pointer";
import type { Edits } from "./usePieceEdits";
import { SheetContent } from "../ui/SheetContent";

export function ConflictSheet({ edits }: { edits: Edits }) {
  const conflict = edits.conflict!;
  const [mine, setMine] = useState<Record<string, boolean>>({});
  const settle = () => {
    const piece = conflict.clashes
      .filter((clash) => mine[clash.pointer])
      .reduce((document, clash) => setAt(document, clash.pointer, clash.yours ?? null), conflict.merged);
    void edits.settle(piece);
  };
  return (
    <Dialog.Root open>
      <Dialog.Portal>
        <Dialog.Overlay className="over" />
        <SheetContent className="sheet" onEscapeKeyDown={(event) => event.preventDefault()}>
          <Dialog.Title>Changed on another device</Dialog.Title>
          <Dialog.Description className="mt-1 mb-3">
            Somebody saved this piece while you edited it. Choose for each value which one holds; everything
            else of both is kept.
          </Dialog.Description>
          {conflict.clashes.map((clash) => (
            <fieldset key={clash.pointer} className="border-t border-line py-3">
              <legend className="font-semibold float-left w-full">{pointerWords(clash.pointer)}</legend>
              <p className="text-slate text-[13px] clear-both">was {valueWords(clash.base)}</p>
              <Choice
                name={clash.pointer}
                label={`theirs: ${valueWords(clash.theirs)}`}
                checked={!mine[clash.pointer]}
                onChange={() => setMine({ ...mine, [clash.pointer]: false })}
              />
              <Choice
                name={clash.pointer}
                label={`yours: ${valueWords(clash.yours)}`}
                checked={!!mine[clash.pointer]}
                onChange={() => setMine({ ...mine, [clash.pointer]: true })}
              />
            </fieldset>
          ))}
          <button className="key mt-2" onClick={settle}>
            Keep these
          </button>
        </SheetContent>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Choice({
  name,
  label,
  checked,
  onChange,
}: {
  name: string;
  label: string;
  checked: boolean;
  onChange: () => void;
}) {
  return (
    <label className="flex gap-2 items-center min-h-9">
      <input type="radio" name={name} checked={checked} onChange={onChange} />
      {label}
    </label>
  );
}
