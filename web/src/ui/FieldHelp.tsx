/** The small mark at a field's name, and what it tells. */
import { Popover } from "radix-ui";
import { FIELD_HELP } from "../domain/help";

export function FieldHelp({ label }: { label: string }) {
  const help = FIELD_HELP[label];
  if (!help) return null;
  return (
    <Popover.Root>
      <Popover.Trigger
        className="min-h-[24px] min-w-[24px] text-spruce font-semibold"
        onClick={(event) => event.stopPropagation()}
      >
        <span className="sr-only">Help with {label}</span>
        <span aria-hidden>?</span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          className="z-50 bg-paper border border-ink p-4 w-[min(320px,calc(100vw-16px))] text-[13.5px] grid gap-1.5"
          sideOffset={4}
          collisionPadding={8}
        >
          <section aria-label={`About ${label}`} className="grid gap-1.5">
            <b className="font-semibold text-[15px]">{label}</b>
            {help.drawing ? (
              <svg viewBox="0 0 120 60" width="150" height="75" aria-hidden fill="none" strokeWidth="1.5">
                <path d={help.drawing} className="stroke-ink" />
              </svg>
            ) : null}
            <p>{help.what}</p>
            <p>
              <span className="text-slate">Measure it: </span>
              {help.how}
            </p>
            <p>
              <span className="text-slate">If it is wrong: </span>
              {help.wrong}
            </p>
          </section>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
