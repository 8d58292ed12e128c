/** Stock and buying: bottles with what is left, what plans reserve, and the cheapest kits for the pieces
 *  that are ticked. */
import {
  bringBackBottle,
  planPurchase,
  readMoves,
  removeBottle,
  takeFromBottle,
  weighBottle,
} from "../../api/operations.generated";
import { useChangeBottle } from "../../api/changes";
import { useMemo, useState } from "react";
import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { useEverythingAnew, useShelfItems, usePieces, useShelf, useStock } from "../../api/queries";
import { text } from "../../domain/format";
import { Buying } from "../../stages/resin/Buying";
import { Check } from "../../ui/Check";
import { QuantityField, TextField } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { Waiting } from "../../ui/states";
import { Shape } from "../../ui/Verdicts";
import { AddBottle } from "./AddBottle";

type Row = Schemas["BottleRow"];

export function StockShelf() {
  const stock = useStock();
  const shelf = useShelf();
  const shelfItems = useShelfItems();
  const [open, setOpen] = useState<number | null>(null);
  const [gone, setGone] = useState<{ id: number; called: string } | null>(null);
  const anew = useEverythingAnew();
  if (!stock.data || !shelf.data || !shelfItems.data)
    return <Waiting error={stock.error ?? shelf.error ?? shelfItems.error} what="the stock" />;
  const names = (row: Row) =>
    (row.standing.bottle.goods === "system"
      ? shelf.data.find((one) => one.system.id === row.standing.bottle.goods_id)?.system.name
      : shelfItems.data.colourants?.[row.standing.bottle.goods_id]?.name) ?? row.standing.bottle.goods_id;
  const groups = new Map<string, Row[]>();
  for (const row of stock.data.bottles) groups.set(names(row), [...(groups.get(names(row)) ?? []), row]);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_360px] gap-8 px-7 py-3 max-lg:block max-sm:px-3">
      <section aria-label="Bottles">
        {gone ? (
          <p role="status" className="py-2">
            {gone.called} is off the shelf.{" "}
            <button
              className="quiet"
              onClick={() =>
                void bringBackBottle(gone.id).then(() => {
                  setGone(null);
                  return anew();
                })
              }
            >
              Bring it back
            </button>
          </p>
        ) : null}
        {groups.size === 0 ? (
          <p className="text-slate py-4">
            No bottle is on the shelf. Bring a kit home, or add a single bottle.
          </p>
        ) : null}
        {[...groups].map(([name, rows]) => (
          <Group
            key={name}
            name={name}
            rows={rows}
            reserved={stock.data.reserved}
            open={open}
            onOpen={setOpen}
            onGone={(id, called) => setGone({ id, called })}
          />
        ))}
        <AddBottle sheets={shelf.data} colourants={Object.values(shelfItems.data.colourants ?? {})} />
      </section>
      <Purchase />
    </div>
  );
}

interface GroupProps {
  name: string;
  rows: Row[];
  reserved: Schemas["PartNeed"][];
  open: number | null;
  onOpen: (id: number | null) => void;
  onGone: (id: number, called: string) => void;
}

function Group({ name, rows, reserved, open, onOpen, onGone }: GroupProps) {
  const { units } = useUnits();
  const id = rows[0]!.standing.bottle.goods_id;
  const mine = reserved.filter((one) => one.system_id === id);
  const kg = (value: number) => text(value, "mass", units);
  return (
    <section className="mt-3" aria-label={name}>
      <h2 className="text-[17px] border-b border-ink">{name}</h2>
      {mine.length ? (
        <p className="text-[13px] text-slate">
          Reserved: A {kg(mine.reduce((sum, one) => sum + one.a_kg, 0))}, B{" "}
          {kg(mine.reduce((sum, one) => sum + one.b_kg, 0))} for{" "}
          {[...new Set(mine.map((one) => one.who))].join(", ")}.
        </p>
      ) : null}
      <ul className="rule">
        {rows.map((row) => (
          <BottleLine
            key={row.standing.id}
            row={row}
            isOpen={open === row.standing.id}
            onOpen={() => onOpen(open === row.standing.id ? null : row.standing.id)}
            onGone={() =>
              onGone(
                row.standing.id,
                `${name}${row.standing.bottle.part ? `, part ${row.standing.bottle.part}` : ""}`,
              )
            }
          />
        ))}
      </ul>
    </section>
  );
}

function BottleLine({
  row,
  isOpen,
  onOpen,
  onGone,
}: {
  row: Row;
  isOpen: boolean;
  onOpen: () => void;
  onGone: () => void;
}) {
  const { units, currency } = useUnits();
  const { bottle, left_kg } = row.standing;
  const share = Math.min(left_kg / bottle.full_kg.value, 1);
  const worst = row.verdicts.find((one) => one.weight !== "note") ?? row.verdicts[0];
  return (
    <li className="py-1.5">
      <button
        aria-expanded={isOpen}
        onClick={onOpen}
        className="w-full grid grid-cols-[30px_88px_150px_minmax(0,1fr)_auto] max-sm:grid-cols-[30px_70px_1fr] gap-3 items-center text-left min-h-9"
      >
        <svg width="26" height="34" aria-hidden="true">
          <path d="M9 2h8v6l5 6v18H4V14l5-6z" fill="var(--form)" className="stroke-ink" strokeWidth="1.5" />
          <path
            d={`M4.800 ${31.2 - 16 * share}H21.2V31.2H4.800z`}
            fill="var(--liquid)"
            className="stroke-ink"
            strokeWidth="1"
          />
        </svg>
        <span className="font-semibold">{bottle.part ? `part ${bottle.part}` : "colour"}</span>
        <span className="tabular-nums whitespace-nowrap">
          <b className="font-semibold">{text(left_kg, "mass", units)}</b>{" "}
          <span className="text-slate">of {text(bottle.full_kg.value, "mass", units)}</span>
        </span>
        <span className="text-[13px] max-sm:col-span-3">
          lot {bottle.lot || "not noted"}
          {row.good_until ? `, good until ${day(row.good_until)}` : ", no date known"}
          {bottle.opened_on ? `, opened ${day(bottle.opened_on)}` : ", sealed"}
          {worst ? (
            <span
              className={`flex gap-1 items-center ${worst.weight === "note" ? "" : "text-rust font-semibold"}`}
            >
              <Shape weight={worst.weight} /> {worst.title}
            </span>
          ) : null}
        </span>
        <span className="text-slate text-[13px] whitespace-nowrap max-sm:hidden">
          {typeof bottle.price_minor === "number" ? text(bottle.price_minor, "money", units, currency) : ""}
        </span>
      </button>
      {isOpen ? <BottleEditor row={row} onGone={onGone} /> : null}
    </li>
  );
}

/** A calendar day as it is said; no zone is meant. */
function day(iso: string): string {
  return new Intl.DateTimeFormat("en-GB", {
    day: "numeric",
    month: "short",
    year: "numeric",
    timeZone: "UTC",
  }).format(new Date(`${iso}T00:00Z`));
}

function BottleEditor({ row, onGone }: { row: Row; onGone: () => void }) {
  const { standing } = row;
  const anew = useEverythingAnew();
  const { units, zone } = useUnits();
  const moves = useQuery({
    queryKey: ["moves", standing.id, standing.left_kg],
    queryFn: () => readMoves(standing.id),
  });
  const act = async (work: Promise<unknown>) => {
    await work;
    await anew();
  };
  const change = useChangeBottle(standing);
  return (
    <div className="pl-10 py-2 grid grid-cols-3 gap-3 max-sm:grid-cols-1 max-sm:pl-0">
      {row.verdicts.map((one) => (
        <p key={one.code} className="col-span-3 max-sm:col-span-1 text-[13px]">
          <b>{one.title}.</b> {one.text} {one.todo}
        </p>
      ))}
      <QuantityField
        label="weighed anew: left in it"
        kind="mass"
        help="empty bottle taken off"
        onCommit={(reading) => (reading ? act(weighBottle(standing.id, { left: reading })) : undefined)}
      />
      <QuantityField
        label="take out"
        kind="mass"
        help="for something not weighed here"
        onCommit={(reading) => (reading ? act(takeFromBottle(standing.id, { mass: reading })) : undefined)}
      />
      <div className="self-start pt-5">
        <button className="quiet" onClick={() => void act(weighBottle(standing.id, { nothing: true }))}>
          It is empty
        </button>
      </div>
      <TextField label="lot" value={standing.bottle.lot ?? ""} onCommit={(lot) => change({ lot })} />
      <TextField
        label="opened on"
        type="date"
        value={standing.bottle.opened_on ?? ""}
        onCommit={(opened_on) => change({ opened_on: opened_on || null })}
      />
      <TextField
        label="printed date"
        type="date"
        value={standing.bottle.best_before ?? ""}
        onCommit={(best_before) => change({ best_before: best_before || null })}
      />
      <details className="col-span-3 max-sm:col-span-1 text-[13px]">
        <summary className="cursor-pointer">What was booked</summary>
        <ul>
          {moves.data?.moves.map((one, index) => (
            <li key={index} className="flex gap-3">
              <span className="tabular-nums w-20 text-right">
                {one.kg > 0 ? "+" : "−"}
                {text(Math.abs(one.kg), "mass", units)}
              </span>
              <span>{one.why}</span>
              <span className="text-slate">
                {new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeZone: zone }).format(
                  new Date(one.made_at),
                )}
              </span>
            </li>
          ))}
        </ul>
      </details>
      <button
        className="quiet text-left text-[13px]"
        onClick={() =>
          void removeBottle(standing.id).then(() => {
            onGone();
            return anew();
          })
        }
      >
        Take the bottle off the shelf
      </button>
    </div>
  );
}

function Purchase() {
  const pieces = usePieces("", 0);
  const listed = useMemo(() => pieces.data?.pieces ?? [], [pieces.data]);
  const [picked, setPicked] = useState<Set<number> | null>(null);
  // Before anybody ticked: the pieces that were planned and are not finished.
  const chosen = useMemo(
    () =>
      picked ??
      new Set(listed.filter((one) => (one.filled ?? 0) < 1 && (one.pours ?? 0) > 0).map((one) => one.id)),
    [picked, listed],
  );
  const ids = [...chosen].sort((a, b) => a - b);
  const found = useQuery({
    queryKey: ["purchase", ids.join()],
    queryFn: () => planPurchase({ piece_ids: ids }),
    enabled: ids.length > 0,
  });
  const toggle = (id: number, on: boolean) => {
    const next = new Set(chosen);
    if (on) next.add(id);
    else next.delete(id);
    setPicked(next);
  };
  return (
    <aside aria-label="Buying" className="max-lg:mt-6">
      <h2>What to buy</h2>
      <details className="mt-1">
        <summary className="quiet">
          For {chosen.size} of {listed.length} pieces
        </summary>
        <p className="flex gap-4">
          <button
            className="quiet text-[13px]"
            onClick={() => setPicked(new Set(listed.map((one) => one.id)))}
          >
            all
          </button>
          <button className="quiet text-[13px]" onClick={() => setPicked(new Set())}>
            none
          </button>
        </p>
        {listed.map((one) => (
          <Check key={one.id} checked={chosen.has(one.id)} onChange={(on) => toggle(one.id, on)}>
            {one.name}
          </Check>
        ))}
      </details>
      {found.data?.buy.length ? (
        <Buying
          buy={found.data.buy}
          title={`${chosen.size} ${chosen.size === 1 ? "piece" : "pieces"} together`}
        />
      ) : (
        <p className="text-slate mt-2">
          {ids.length === 0
            ? "Tick a piece."
            : found.isPending
              ? "Weighing up the kits …"
              : "Nothing is needed."}
        </p>
      )}
      {found.error ? (
        <p role="alert" className="text-rust">
          {found.error.message}
        </p>
      ) : null}
      {found.data?.unplanned.length ? (
        <p className="text-[13px] text-slate mt-1">
          Not planned yet, so not counted: {found.data.unplanned.join(", ")}.
        </p>
      ) : null}
    </aside>
  );
}
