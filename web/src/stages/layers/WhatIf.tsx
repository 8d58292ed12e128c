/** What if the room were warmer, the mould another, the start later? Tried on the whole page; kept only
 *  when asked. */
import type { Present } from "../../api/client";
import { useEffect, useState } from "react";
import { useShelf, type Piece } from "../../api/queries";
import { degrees } from "../../domain/format";
import { useShop, useUnits } from "../../ui/session";
import type { StageProps } from "../props";
import { STANDS, WALLS } from "./Around";

type Void = NonNullable<Piece["voids"]>[number];
const ROOM = { least: 10, most: 34 };

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
    void preview.trial(next || at !== null ? { piece: next ?? stored.piece, room_c: at } : null);
  };
  const withVoid = (change: (one: Void) => Void): Piece => ({
    ...piece,
    voids: (piece.voids ?? []).map((one) => (one.id === voidId ? change(one) : one)),
  });
  const pending = room !== null || changed !== null;
  if (!hollow || !tried) return null;
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
                around: {
                  ...one.around,
                  wrapped: one.around?.wrapped ?? false,
                  stands_on: event.target.value as "bench",
                },
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
