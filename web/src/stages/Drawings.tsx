/** The section and the clock, large: the work itself on Layers and Clock, made large from the strip elsewhere. */
import { filmReading, withLay, withSide } from "../domain/lays";
import { useMemo, type ComponentProps } from "react";
import type { Piece, Plan } from "../api/queries";
import { layersOf } from "../domain/boundaries";
import { nameOf, stateAt } from "../domain/section";
import { CoatStack } from "../drawing/CoatStack";
import { ClockLegend, ClockRibbon, ClockTable, type RibbonRow } from "../drawing/ClockRibbon";
import { PlanView } from "../drawing/PlanView";
import { Section } from "../drawing/Section";
import { useUnits } from "../ui/session";
import { Empty } from "../ui/states";
import { useDrawn } from "./drawn";
import { LayerTable } from "./layers/LayerTable";
import { MeshPeek } from "./measure/MeshPeek";
import { useDragged, type Preview } from "./usePreview";

type DraggedProps = Omit<ComponentProps<typeof Section>, "moved" | "onMove"> & { preview: Preview };

/** The section follows a dragged boundary by itself. */
function DraggedSection({ preview, ...rest }: DraggedProps) {
  const moved = useDragged(preview.dragged);
  return (
    <Section
      {...rest}
      moved={moved}
      onMove={(edge, level, done) => void preview.move(edge, level, done).catch(() => undefined)}
    />
  );
}

export function NothingDrawn() {
  const { stored } = useDrawn();
  const { piece } = stored;
  return (
    <Empty title="Nothing measured yet">
      {(piece.voids ?? []).length + (piece.coats ?? []).length
        ? "This cannot be drawn yet; see what it says."
        : "Measure the first void or coat: choose its shape and type what the tape says. The section is drawn from it."}
    </Empty>
  );
}

/** shaded: temperature and cure may be shown at the cursor. */
export function BigSection({ shaded = false }: { shaded?: boolean }) {
  const { stored, plan, voidId, chooseVoid, preview, cursor, shade, setShade } = useDrawn();
  const section = plan.sections.find((one) => one.void_id === voidId);
  if (!section) return <NothingDrawn />;
  const canShade =
    shaded &&
    section.cut !== "coat" &&
    !!plan.heat_maps?.some((one) => one.void_id === voidId && one.times_s.length);
  const at = plan.clock ? cursor : null;
  const tint = stored.piece.tint ?? "#D39A3C";
  const hollow = shaded ? (stored.piece.voids ?? []).find((one) => one.id === voidId) : undefined;
  return (
    <>
      <div className="flex flex-wrap items-baseline gap-x-4 text-[13px] text-slate min-h-7">
        {plan.sections.length > 1 ? (
          <div role="group" aria-label="What is drawn" className="flex flex-wrap gap-3">
            {plan.sections.map((one) => (
              <button
                key={one.void_id}
                className={
                  one.void_id === voidId
                    ? "font-semibold text-ink border-b-2 border-spruce"
                    : "border-b-2 border-transparent"
                }
                aria-pressed={one.void_id === voidId}
                onClick={() => chooseVoid(one.void_id)}
              >
                {nameOf(plan, one.void_id)}
              </button>
            ))}
          </div>
        ) : null}
        <span>
          {section.cut === "coat" ? (
            "The coat over a break line."
          ) : (
            <>
              Section {section.cut === "true" ? "" : "of equivalent width, "}
              {section.cut_note}, to scale. {shaded ? "Drag a boundary, or arrow keys." : ""}
            </>
          )}
        </span>
      </div>
      {section.cut === "coat" ? (
        <CoatStack
          plan={plan}
          section={section}
          coat={(stored.piece.coats ?? []).find((one) => one.id === voidId)}
          tint={tint}
          cursor={at}
          onFilm={(film, done) =>
            void preview.change(
              "film",
              (piece) => ({
                ...piece,
                coats: (piece.coats ?? []).map((one) =>
                  one.id === voidId
                    ? withLay(one, one.lays.at(-1)!.id, (lay) => withSide(lay, "film", filmReading(film)))
                    : one,
                ),
              }),
              done,
            )
          }
        />
      ) : (
        <DraggedSection
          plan={plan}
          section={section}
          tint={tint}
          cursor={at}
          preview={preview}
          shade={canShade ? shade : "fill"}
          onFill={
            hollow
              ? (level) =>
                  preview.change(
                    "fill line",
                    (piece) => ({
                      ...piece,
                      voids: (piece.voids ?? []).map((one) =>
                        one.id === voidId ? { ...one, overfill_m: overfill(level - section.depth_m) } : one,
                      ),
                    }),
                    true,
                  )
              : undefined
          }
        />
      )}
      {shaded ? <Beside plan={plan} voidId={voidId} piece={stored.piece} at={at} /> : null}
      {canShade ? (
        <p className="flex flex-wrap items-baseline gap-x-4 text-[13px]">
          <span className="text-slate">Show at the time cursor:</span>
          {(["fill", "temperature", "cure"] as const).map((one) => (
            <button
              key={one}
              className={`min-h-6 ${shade === one ? "font-semibold border-b-2 border-spruce" : "text-spruce border-b-2 border-transparent"}`}
              aria-pressed={shade === one}
              onClick={() => setShade(one)}
            >
              {one}
            </button>
          ))}
        </p>
      ) : null}
      {preview.isTrial ? (
        <p className="text-rust font-semibold text-[13px]">Preview only; not saved.</p>
      ) : null}
      {preview.problem ? (
        <p role="alert" className="text-rust font-medium">
          {preview.problem}
        </p>
      ) : null}
    </>
  );
}

interface BesideProps {
  plan: Plan;
  voidId: string;
  piece: Piece;
  at: Date | null;
}

/** What a section does not tell: the shape from above, or a mesh in three dimensions filled up to the time cursor. */
function Beside({ plan, voidId, piece, at }: BesideProps) {
  const tint = piece.tint ?? "#D39A3C";
  const hollow = (piece.voids ?? []).find((one) => one.id === voidId);
  const covered = (piece.coats ?? []).find((one) => one.id === voidId);
  const shape = hollow?.shape ?? covered?.surface;
  if (!shape) return null;
  if (shape.kind !== "mesh")
    return (
      <PlanView
        shape={shape}
        tint={tint}
        count={hollow?.count ?? covered?.count ?? 1}
        apart={hollow?.around?.spacing_m?.value}
      />
    );
  if (!shape.source.file || !("unit" in shape)) return null;
  const levels = layersOf(plan, voidId)
    .filter((layer) => stateAt(plan, layer.number, at) !== "not poured yet")
    .map((layer) => layer.to_m);
  return (
    <MeshPeek
      shape={{ sha: shape.source.file, unit: shape.unit, up: shape.up ?? "z" }}
      levels={levels}
      tint={tint}
    />
  );
}

/** Nothing above the rim is no overfill. */
const overfill = (value: number) =>
  value > 1e-6 ? { value, as_typed: "", origin: "chosen" as const } : null;

/** hot: the curve of the hottest layer stands over each bar. */
export function BigClock({ hot = false, onStart }: { hot?: boolean; onStart?: (at: Date) => void }) {
  const { plan, from, to, cursor, moveCursor } = useDrawn();
  const { zone } = useUnits();
  const rows = useMemo(() => withHeat(plan, hot), [plan, hot]);
  if (!plan.clock) return null;
  return (
    <>
      <ClockRibbon
        from={from}
        to={to}
        zone={zone}
        away={plan.clock.away}
        rows={rows}
        rowHeight={rows.some((row) => row.heat) ? 62 : 46}
        pins={plan.clock.pins}
        cursor={cursor}
        onCursor={moveCursor}
        start={onStart && plan.start_at ? { at: new Date(plan.start_at), onMove: onStart } : undefined}
      />
      <ClockLegend />
      <ClockTable rows={plan.clock.rows} zone={zone} />
    </>
  );
}

/** Both, where they are the work itself. */
export function SectionAndClock() {
  const { plan, voidId, preview } = useDrawn();
  return (
    <section aria-label="Section and clock">
      <BigSection shaded />
      {plan.clock ? (
        <div className="border-t border-ink mt-2 pt-2">
          <BigClock hot />
        </div>
      ) : null}
      <LayerTable plan={plan} voidId={voidId} preview={preview} />
    </section>
  );
}

/** The clock's rows with the curve of the hottest layer of each pour over its bar. */
function withHeat(plan: Plan, wanted: boolean): RibbonRow[] {
  const rows: RibbonRow[] = plan.clock?.rows ?? [];
  const first = rows[0]?.segments[0]?.to_at;
  if (!wanted || !first) return rows;
  return rows.map((row, index) => {
    const heats = (plan.pours[index]?.layers ?? []).flatMap((layer) => (layer.heat ? [layer.heat] : []));
    const hottest = heats.reduce<(typeof heats)[number] | null>(
      (best, heat) => (!best || heat.peak.value > best.peak.value ? heat : best),
      null,
    );
    if (!hottest) return row;
    const points = hottest.curve.map(([at, celsius]): [Date, number] => [
      new Date(+new Date(first) + at * 1000),
      celsius,
    ]);
    return {
      ...row,
      heat: { points, peak: hottest.peak.value, over: hottest.peak.value > hottest.wanted_c },
    };
  });
}
