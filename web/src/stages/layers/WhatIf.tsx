/** What if the room were warmer, the mould another, the start later? Tried on the whole page; kept only
 *  when asked. */
import type { Present } from "../../api/client";
import { useEffect, useState } from "react";
import { useShelf, type Piece } from "../../api/queries";
import { layersOf } from "../../domain/boundaries";
import { degrees, text } from "../../domain/format";
import { useShop, useUnits } from "../../ui/session";
import type { StageProps } from "../props";
import { aroundWith, COVERS, STANDS, WALLS } from "./Around";

type Void = NonNullable<Piece["voids"]>[number];
const ROOM = { least: 10, most: 34 };
const POURED = { least: 10, most: 45 };
const APART_MM = 60; // the slider's end: no spacing said, so they count as standing alone

export function WhatIf({
  stored,
  plan,
  edits,
  voidId,
  preview,
}: Pick<StageProps, "stored" | "plan" | "edits" | "voidId" | "preview">) {
  const { workshop } = useShop();
  const { units } = useUnits();
  const shelf = useShelf();
  const now = workshop.room_c.value;
  const [room, setRoom] = useState<number | null>(null);
  const [changed, setChanged] = useState<Piece | null>(null);
  const hollow = (stored.piece.voids ?? []).find((one) => one.id === voidId);
  const piece = changed ?? stored.piece;
  const tried = (piece.voids ?? []).find((one) => one.id === voidId);

  useEffect(() => {
    setRoom(null);
    setChanged(null);
  }, [stored.revision, voidId]);

  const attempt = (next: Piece | null, at: number | null) => {
    setChanged(next);
    setRoom(at);
    preview.trial(next || at !== null ? { piece: next ?? stored.piece, room_c: at } : null);
  };
  const withVoid = (change: (one: Void) => Void): Piece => ({
    ...piece,
    voids: (piece.voids ?? []).map((one) => (one.id === voidId ? change(one) : one)),
  });
  const pending = room !== null || changed !== null;
  if (!hollow || !tried) return null;
  const heat = layersOf(plan, voidId).find((layer) => layer.heat)?.heat;
  const sheet = shelf.data?.find(
    (one) => one.system.id === (tried.portions[0]?.system_id ?? piece.system_id),
  )?.system;
  const mostPoured = sheet?.pour_to_c?.value ?? sheet?.room_to_c.value ?? POURED.most;
  const pouredAt = tried.portions[0]?.pour_c?.value ?? heat?.began_c ?? now;
  const leastApart = tried.around?.wall_m?.value ?? 0.003;
  const apart = tried.around?.spacing_m?.value ?? APART_MM / 1000;
  return (
    <section className="mt-4" aria-label="What if">
      <h2>What if</h2>
      <div className="mt-1 grid grid-cols-[88px_1fr_58px] gap-x-2 gap-y-1.5 items-center text-[13px]">
        <label htmlFor="if-room" className="text-slate">
          room
        </label>
        <input
          id="if-room"
          type="range"
          min={ROOM.least}
          max={ROOM.most}
          step="0.5"
          value={room ?? now}
          className="accent-spruce w-full min-h-7"
          aria-valuetext={degrees(room ?? now, units)}
          onChange={(event) => attempt(changed, Number(event.target.value))}
        />
        <span className="text-right font-semibold">{degrees(room ?? now, units)}</span>
        <label htmlFor="if-wall" className="text-slate">
          mould
        </label>
        <select
          id="if-wall"
          className="box col-span-2"
          value={tried.wall ?? "other"}
          onChange={(event) =>
            attempt(
              withVoid((one) => ({ ...one, wall: event.target.value as Present<Void["wall"]> })),
              room,
            )
          }
        >
          {WALLS.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
        <label htmlFor="if-stands" className="text-slate">
          standing on
        </label>
        <select
          id="if-stands"
          className="box col-span-2"
          value={tried.around?.stands_on ?? "bench"}
          onChange={(event) =>
            attempt(
              withVoid((one) => ({
                ...one,
                around: aroundWith(one, { stands_on: event.target.value as "bench" }),
              })),
              room,
            )
          }
        >
          {STANDS.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
        <label htmlFor="if-covered" className="text-slate">
          covered by
        </label>
        <select
          id="if-covered"
          className="box col-span-2"
          value={tried.around?.covered ?? "open"}
          onChange={(event) =>
            attempt(
              withVoid((one) => ({
                ...one,
                around: aroundWith(one, { covered: event.target.value as "open" }),
              })),
              room,
            )
          }
        >
          {COVERS.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
        {heat ? (
          <>
            <label htmlFor="if-poured" className="text-slate">
              poured at
            </label>
            <input
              id="if-poured"
              type="range"
              min={POURED.least}
              max={mostPoured}
              step="0.5"
              value={Math.min(pouredAt, mostPoured)}
              className="accent-spruce w-full min-h-7"
              aria-valuetext={degrees(pouredAt, units)}
              onChange={(event) => {
                const value = Number(event.target.value);
                attempt(
                  withVoid((one) => ({
                    ...one,
                    portions: one.portions.map((part) => ({
                      ...part,
                      pour_c: { value, origin: "chosen" as const },
                    })),
                  })),
                  room,
                );
              }}
            />
            <span className="text-right font-semibold">{degrees(pouredAt, units)}</span>
          </>
        ) : null}
        {(hollow.count ?? 1) > 1 ? (
          <>
            <label htmlFor="if-spacing" className="text-slate">
              {hollow.count} apart
            </label>
            <input
              id="if-spacing"
              type="range"
              min={Math.round(leastApart * 1000)}
              max={APART_MM}
              step="1"
              value={Math.min(apart * 1000, APART_MM)}
              className="accent-spruce w-full min-h-7"
              aria-valuetext={apart * 1000 >= APART_MM ? "alone" : text(apart, "length", units)}
              onChange={(event) => {
                const millimetres = Number(event.target.value);
                const spacing_m =
                  millimetres >= APART_MM ? null : { value: millimetres / 1000, origin: "chosen" as const };
                attempt(
                  withVoid((one) => ({ ...one, around: aroundWith(one, { spacing_m }) })),
                  room,
                );
              }}
            />
            <span className="text-right font-semibold">
              {apart * 1000 >= APART_MM ? "alone" : text(apart, "length", units)}
            </span>
          </>
        ) : null}
        <label htmlFor="if-resin" className="text-slate">
          resin
        </label>
        <select
          id="if-resin"
          className="box col-span-2"
          value={piece.system_id ?? ""}
          onChange={(event) => attempt({ ...piece, system_id: event.target.value }, room)}
        >
          {piece.system_id ? null : <option value="">not chosen</option>}
          {(shelf.data ?? []).map((sheet) => (
            <option key={sheet.system.id} value={sheet.system.id}>
              {sheet.system.name}
            </option>
          ))}
        </select>
        <label htmlFor="if-start" className="text-slate">
          first pour
        </label>
        <input
          id="if-start"
          type="datetime-local"
          className="box col-span-2"
          value={local(piece.first_pour_at ?? plan.start_at ?? null)}
          onChange={(event) =>
            event.target.value &&
            attempt({ ...piece, first_pour_at: new Date(event.target.value).toISOString() }, room)
          }
        />
      </div>
      {pending ? (
        <p className="mt-2 flex flex-wrap gap-x-4 gap-y-1 items-center">
          {changed ? (
            <button
              className="key"
              onClick={() => void edits.edit("kept what was tried", () => changed).catch(() => undefined)}
            >
              Keep it
            </button>
          ) : null}
          <button className="quiet" onClick={() => attempt(null, null)}>
            Put it back
          </button>
          {room !== null ? (
            <span className="text-[12.5px] text-slate">
              The room is kept in the workshop's settings, not here.
            </span>
          ) : null}
        </p>
      ) : (
        <p className="mt-1 text-[12.5px] text-slate">
          Section, heat and clock show the trial at once; nothing is kept until you say so.
        </p>
      )}
    </section>
  );
}

/** For the field of the browser's own zone. */
function local(at: string | null): string {
  if (!at) return "";
  const moment = new Date(at);
  return new Date(+moment - moment.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}
