/** What the drawings of an open piece show, shared by the large ones and the strip: which void, which trial, the time
 *  cursor, which of the two is made large. */
import { createContext, use, useMemo, useState, type ReactNode } from "react";
import type { Plan, Stored } from "../api/queries";
import type { Tint } from "../domain/heat";
import { useShop } from "../ui/session";
import type { Edits } from "./usePieceEdits";
import type { Preview } from "./usePreview";

export type Grown = "section" | "clock" | null;

interface Given {
  stored: Stored;
  plan: Plan;
  edits: Edits;
  voidId: string;
  chooseVoid: (id: string) => void;
  preview: Preview;
}

export interface Drawn extends Given {
  /** what the axis of the clock shows */
  from: Date;
  to: Date;
  cursor: Date;
  moveCursor: (at: Date) => void;
  shade: Tint;
  setShade: (shade: Tint) => void;
  grown: Grown;
  grow: (which: Grown) => void;
}

const DrawnContext = createContext<Drawn | null>(null);

export function useDrawn(): Drawn {
  const drawn = use(DrawnContext);
  if (!drawn) throw new Error("a drawing of a piece outside of its workspace");
  return drawn;
}

export function DrawnProvider({ children, ...given }: Given & { children: ReactNode }) {
  const { now } = useShop();
  const { plan, voidId } = given;
  const { clock } = plan;
  const [grown, grow] = useState<Grown>(null);
  const [moved, moveCursor] = useState<Date | null>(null);
  const [shade, setShade] = useState<Tint>("fill");
  const [from, to] = useMemo(
    () => [new Date(clock?.from_at ?? now), new Date(clock?.to_at ?? now)],
    [clock?.from_at, clock?.to_at, now],
  );
  const present = new Date(now);
  // Before a start is set there is no now on this clock: the whole fill is shown.
  const first = plan.start_is_chosen && present > from && present < to ? present : to;
  // Shaded before anybody moved the cursor: the hottest moment, since that is what is asked.
  const cursor =
    moved && moved >= from && moved <= to
      ? moved
      : shade === "fill"
        ? first
        : (hottestMoment(plan, voidId) ?? first);
  return (
    <DrawnContext value={{ ...given, from, to, cursor, moveCursor, shade, setShade, grown, grow }}>
      {children}
    </DrawnContext>
  );
}

function hottestMoment(plan: Plan, voidId: string): Date | null {
  const first = plan.clock?.rows[0]?.segments[0]?.to_at;
  const heats = plan.pours
    .flatMap((pour) => pour.layers)
    .flatMap((layer) => (layer.void_id === voidId && layer.heat ? [layer.heat] : []));
  if (!first || !heats.length) return null;
  const hottest = heats.reduce((best, heat) => (heat.peak.value > best.peak.value ? heat : best));
  return new Date(+new Date(first) + (hottest.poured_s + hottest.peak_s) * 1000);
}
