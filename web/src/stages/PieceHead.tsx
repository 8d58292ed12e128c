/** Name, totals line, undo, file out, details of a piece. */
import { removePiece } from "../api/operations.generated";
import { Dialog, DropdownMenu } from "radix-ui";
import { useRef, useState, type ReactNode, type RefObject } from "react";
import { useNavigate } from "react-router";
import { useEverythingAnew, type Plan, type Stored } from "../api/queries";
import { bandLike, dayAndTime, moment, text } from "../domain/format";
import { KINDS_OF_WORK, type KindOfWork } from "../domain/work";
import { Fig } from "../ui/Fig";
import { TextField } from "../ui/QuantityField";
import { useUnits } from "../ui/session";
import type { Edits } from "./usePieceEdits";
import { SheetContent } from "../ui/SheetContent";

export function PieceHead({ stored, plan, edits }: { stored: Stored; plan: Plan; edits: Edits }) {
  const { piece } = stored;
  const { units, zone } = useUnits();
  const [open, setOpen] = useState(false);
  const [unfolded, setUnfolded] = useState(false);
  const menu = useRef<HTMLButtonElement>(null);
  const totals = plan.totals;
  const due = piece.due ? `due ${dayAndTime(`${piece.due}T12:00:00Z`, "UTC").day}` : "";
  return (
    <div className="flex flex-wrap items-center gap-x-5 gap-y-1 px-5 py-2 min-h-16 max-sm:px-3 max-sm:py-1 max-sm:gap-y-0 max-sm:min-h-0">
      <div className="min-w-0 max-sm:flex-1">
        <h1 className="text-[27px] leading-tight max-sm:text-[22px] max-sm:truncate">{piece.name}</h1>
        <p className="text-[13px] text-slate max-sm:hidden">
          {[piece.for_whom, due].filter(Boolean).join(" · ")}
        </p>
      </div>
      <div className="flex items-center gap-1 no-print" role="group" aria-label="Edits">
        <IconKey label="Undo" disabled={!stored.can_undo} onClick={() => void edits.step("undo")}>
          ↶
        </IconKey>
        <IconKey label="Do again" disabled={!stored.can_redo} onClick={() => void edits.step("redo")}>
          ↷
        </IconKey>
        <PieceMenu stored={stored} trigger={menu} onDetails={() => setOpen(true)} />
        <span className="text-[12px] text-slate" aria-live="polite">
          {edits.told ? (
            <button onClick={edits.hush}>{edits.told}</button>
          ) : edits.state === "saved" ? (
            ""
          ) : edits.state === "saving" ? (
            "saving …"
          ) : (
            "not saved yet, trying again"
          )}
        </span>
      </div>
      <button
        className="sm:hidden w-full flex gap-x-3 min-h-10 items-center text-left text-[14px] font-semibold whitespace-nowrap overflow-hidden"
        aria-expanded={unfolded}
        onClick={() => setUnfolded(!unfolded)}
      >
        <span className="truncate">{inOneLine(plan, units, zone)}</span>
        <span aria-hidden className="ml-auto text-spruce">
          {unfolded ? "▴" : "▾"}
        </span>
        <span className="sr-only">{unfolded ? "fold the totals" : "all totals"}</span>
      </button>
      <dl
        className={`ml-auto flex flex-wrap gap-x-6 gap-y-1 max-sm:ml-0 max-sm:gap-x-4 ${unfolded ? "" : "max-sm:hidden"}`}
      >
        <Total
          label={
            totals.need ? (
              <>
                to fill, <Fig figure={totals.need} plan={plan} /> to mix
              </>
            ) : (
              "to fill"
            )
          }
        >
          <Fig figure={totals.net} plan={plan} />
          {totals.band ? (
            <span className="text-[14px] font-medium">
              {" "}
              ±{" "}
              <Fig
                figure={totals.band}
                plan={plan}
                as={bandLike(totals.band.value, totals.net!.value, units)}
              />
            </span>
          ) : null}
        </Total>
        {totals.mass ? (
          <Total label={systemWords(plan)}>
            <Fig figure={totals.mass} plan={plan} />
          </Total>
        ) : null}
        {totals.pours ? (
          <Total label={`${totals.batches} ${totals.batches === 1 ? "batch" : "batches"}`}>
            {totals.pours} {totals.pours === 1 ? "pour" : "pours"}
          </Total>
        ) : null}
        {totals.hands_on ? (
          <Total label={`hands on, ${totals.visits} visits`}>
            <Fig figure={totals.hands_on} plan={plan} />
          </Total>
        ) : null}
        {totals.cost ? (
          <Total label="resin used">
            <Fig figure={totals.cost} plan={plan} />
          </Total>
        ) : null}
        {totals.pours ? (
          <Total
            label={
              totals.ready_at
                ? `${endWord(piece)}; cured ${moment(totals.ready_at, zone)}`
                : totals.out_of_form_at
                  ? `${endWord(piece)}; never fully cured here`
                  : endWord(piece)
            }
          >
            {totals.out_of_form_at ? (
              moment(totals.out_of_form_at, zone)
            ) : (
              <span className="text-rust">not in this room</span>
            )}
          </Total>
        ) : null}
      </dl>
      <Dialog.Root open={open} onOpenChange={setOpen}>
        <Dialog.Portal>
          <Dialog.Overlay className="over" />
          <SheetContent
            onCloseAutoFocus={(event) => {
              event.preventDefault(); // the item of the menu that opened it is gone
              menu.current?.focus();
            }}
          >
            <Dialog.Title className="mb-3">About this piece</Dialog.Title>
            <div className="grid gap-3">
              <TextField
                label="name"
                required
                value={piece.name}
                onCommit={(name) => edits.edit("renamed", (now) => ({ ...now, name }))}
              />
              <TextField
                label="for whom"
                value={piece.for_whom ?? ""}
                onCommit={(for_whom) => edits.edit("for whom", (now) => ({ ...now, for_whom }))}
              />
              <TextField
                label="due"
                type="date"
                value={piece.due ?? ""}
                onCommit={(due_) => edits.edit("due", (now) => ({ ...now, due: due_ || null }))}
              />
              <div>
                <label className="label" htmlFor="work">
                  kind of work
                </label>
                <select
                  id="work"
                  className="box"
                  value={piece.kind_of_work}
                  onChange={(event) => {
                    const kind_of_work = event.target.value as KindOfWork;
                    void edits.edit("kind of work", (now) => ({ ...now, kind_of_work }));
                  }}
                >
                  {KINDS_OF_WORK.map((kind) => (
                    <option key={kind}>{kind}</option>
                  ))}
                </select>
              </div>
              <TextField
                label="note"
                value={piece.note ?? ""}
                onCommit={(note) => edits.edit("note", (now) => ({ ...now, note }))}
              />
              <label className="flex items-center gap-3 text-[13px] text-slate">
                tint of the fill
                <input
                  type="color"
                  value={piece.tint}
                  onChange={(event) => {
                    const tint = event.target.value;
                    void edits.edit("tint", (now) => ({ ...now, tint }));
                  }}
                />
              </label>
            </div>
            <Dialog.Close className="key mt-5">Close</Dialog.Close>
          </SheetContent>
        </Dialog.Portal>
      </Dialog.Root>
    </div>
  );
}

/** What a phone shows of the totals until somebody opens them. */
function inOneLine(plan: Plan, units: ReturnType<typeof useUnits>["units"], zone: string): string {
  const { net, mass, pours, out_of_form_at } = plan.totals;
  return [
    net ? text(net.value, net.quantity, units) : "nothing measured yet",
    mass ? text(mass.value, mass.quantity, units) : "",
    pours ? `${pours} ${pours === 1 ? "pour" : "pours"}` : "",
    pours && out_of_form_at ? moment(out_of_form_at, zone) : "",
  ]
    .filter(Boolean)
    .join(" · ");
}

/** What comes last is a coat wherever there is one. */
function endWord(piece: Stored["piece"]): string {
  return piece.coats?.length ? "may be handled" : "out of the form";
}

function systemWords(plan: Plan): string {
  const names = [...new Set(plan.pours.flatMap((pour) => pour.batches.map((batch) => batch.system_name)))];
  return names.length === 1 ? names[0]!.toLowerCase() : `${names.length} systems`;
}

function Total({ label, children }: { label: ReactNode; children: ReactNode }) {
  return (
    <div className="leading-tight flex flex-col-reverse">
      <dt className="text-[12px] text-slate">{label}</dt>
      <dd className="text-[17px] font-semibold">{children}</dd>
    </div>
  );
}

function IconKey({
  label,
  children,
  ...rest
}: {
  label: string;
  children: ReactNode;
  disabled: boolean;
  onClick: () => void;
}) {
  return (
    <button
      aria-label={label}
      title={label}
      className="min-h-8 min-w-8 text-[18px] text-spruce disabled:opacity-30 disabled:cursor-default"
      {...rest}
    >
      {children}
    </button>
  );
}

interface MenuProps {
  stored: Stored;
  trigger: RefObject<HTMLButtonElement | null>;
  onDetails: () => void;
}

function PieceMenu({ stored, trigger, onDetails }: MenuProps) {
  const navigate = useNavigate();
  const anew = useEverythingAnew();
  const item =
    "px-3 py-2 outline-none data-[highlighted]:bg-spruce data-[highlighted]:text-on-spruce cursor-pointer";
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger ref={trigger} className="quiet px-2">
        Piece
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="z-50 bg-paper border border-ink min-w-52" sideOffset={4}>
          <DropdownMenu.Item className={item} onSelect={onDetails}>
            Name, due day, note …
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} asChild>
            <a href={`/api/v1/pieces/${stored.id}/file`} download>
              Save as a piece file
            </a>
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => navigate(`/pieces/${stored.id}/sheet`)}>
            Print the bench sheet
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className={item}
            onSelect={async () => {
              await removePiece(stored.id);
              await anew();
              navigate(`/pieces?removed=${stored.id}`);
            }}
          >
            Remove
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
