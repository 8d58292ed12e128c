/** A piece's workspace: the tape of stages, the section and the clock, and the tray of the current stage. */
import { Boundary } from "../ui/Boundary";
import {
  lazy,
  memo,
  Suspense,
  useEffect,
  useMemo,
  useState,
  type ComponentProps,
  type ComponentType,
  type LazyExoticComponent,
} from "react";
import type { StageProps } from "./props";
import { useNavigate, useParams } from "react-router";
import { usePiece, usePlan, type Plan, type Stored } from "../api/queries";
import type { Tint } from "../domain/heat";
import { nameOf } from "../domain/section";
import { CoatStack } from "../drawing/CoatStack";
import { ClockLegend, ClockRibbon, ClockTable, type RibbonRow } from "../drawing/ClockRibbon";
import { Section } from "../drawing/Section";
import { isTyping } from "../ui/Frame";
import { useShop, useUnits } from "../ui/session";
import { Empty, Waiting } from "../ui/states";
import { ConflictSheet } from "./ConflictSheet";
import { LayerTable } from "./layers/LayerTable";
import { PieceHead } from "./PieceHead";
import { STAGES, TapeRail, type StageName } from "./TapeRail";
import { usePieceEdits, type Edits } from "./usePieceEdits";
import { useDragged, usePreview, type Preview } from "./usePreview";

// Each stage is fetched when it is opened, so that the first page need not wait for all of them.
const TRAYS: Record<StageName, LazyExoticComponent<ComponentType<StageProps>>> = {
  survey: lazy(() => import("./survey/SurveyStage").then((found) => ({ default: found.SurveyStage }))),
  measure: lazy(() => import("./measure/MeasureStage").then((found) => ({ default: found.MeasureStage }))),
  resin: lazy(() => import("./resin/ResinStage").then((found) => ({ default: found.ResinStage }))),
  layers: lazy(() => import("./layers/LayersStage").then((found) => ({ default: found.LayersStage }))),
  mix: lazy(() => import("./mix/MixStage").then((found) => ({ default: found.MixStage }))),
  clock: lazy(() => import("./clock/ClockStage").then((found) => ({ default: found.ClockStage }))),
  pour: lazy(() => import("./pour/PourStage").then((found) => ({ default: found.PourStage }))),
  finish: lazy(() => import("./finish/FinishStage").then((found) => ({ default: found.FinishStage }))),
  log: lazy(() => import("./log/LogStage").then((found) => ({ default: found.LogStage }))),
};
/** What a drag does not change is not rendered with it. */
const Head = memo(PieceHead);
const Rail = memo(TapeRail);
const Tray = memo(function Tray({ stage, ...props }: StageProps & { stage: StageName }) {
  const Open = TRAYS[stage];
  return <Open {...props} />;
});

const FinishDrawing = lazy(() =>
  import("./finish/FinishDrawing").then((found) => ({ default: found.FinishDrawing })),
);
const LogDrawing = lazy(() => import("./log/LogDrawing").then((found) => ({ default: found.LogDrawing })));
const SurveyDrawing = lazy(() =>
  import("./survey/SurveyDrawing").then((found) => ({ default: found.SurveyDrawing })),
);

export function Workspace() {
  const params = useParams();
  const id = Number(params.id);
  const stored = usePiece(id);
  if (stored.isPending || !stored.data) return <Waiting error={stored.error} what="the piece" />;
  return <Opened key={id} stored={stored.data} stage={params.stage} />;
}

function Opened({ stored, stage: wanted }: { stored: Stored; stage?: string | undefined }) {
  const navigate = useNavigate();
  const edits = usePieceEdits(stored.id);
  const answer = usePlan(stored.id, stored.revision);
  const stage: StageName = STAGES.find((one) => one.name === wanted)?.name ?? "measure";
  const [chosen, setChosen] = useState("");
  const plan = answer.data;
  const voidId = plan?.sections.some((one) => one.void_id === chosen)
    ? chosen
    : (plan?.sections[0]?.void_id ?? "");
  const [shown, preview] = usePreview(stored.piece, plan, voidId, edits);

  useEffect(() => {
    document.title = `${stored.piece.name} · Cavatum`;
    const onKey = (event: KeyboardEvent) => {
      if (
        (event.ctrlKey || event.metaKey) &&
        event.key.toLowerCase() === "z" &&
        !(event.target as HTMLElement).closest("input, textarea")
      ) {
        event.preventDefault();
        void edits.step(event.shiftKey ? "redo" : "undo").catch(() => undefined);
      }
      const found = STAGES.find((one) => one.digit === event.key);
      if (found && !isTyping(event)) navigate(`/pieces/${stored.id}/${found.name}`);
    };
    window.addEventListener("keydown", onKey);
    return () => {
      window.removeEventListener("keydown", onKey);
      document.title = "Cavatum";
    };
  }, [edits, navigate, stored.id, stored.piece.name]);

  if (!plan || !shown) return <Waiting error={answer.error} what="the plan" />;
  return (
    <>
      <Head stored={stored} plan={shown} edits={edits} />
      <div className="grid grid-cols-[128px_minmax(0,1fr)_332px] max-lg:grid-cols-[128px_minmax(0,1fr)] max-sm:flex max-sm:flex-col">
        <Rail plan={plan} stage={stage} pieceId={stored.id} />
        <Boundary what="The drawing" where={stage}>
          <Suspense fallback={<section />}>
            <Drawings
              stored={stored}
              plan={shown}
              voidId={voidId}
              chooseVoid={setChosen}
              preview={preview}
              stage={stage}
              edits={edits}
            />
          </Suspense>
        </Boundary>
        <aside
          aria-label={STAGES.find((one) => one.name === stage)!.title}
          className={`border-l border-line px-5 pb-6 max-lg:col-span-2 max-lg:border-l-0 max-lg:border-t max-sm:px-3 ${stage === "finish" ? "" : "max-sm:order-last"}`}
        >
          <Boundary what="This stage" where={stage}>
            <Suspense fallback={<Waiting error={null} what="the stage" />}>
              <Tray
                stage={stage}
                stored={stored}
                plan={preview.isTrial ? shown : plan}
                edits={edits}
                voidId={voidId}
                chooseVoid={setChosen}
                preview={preview}
              />
            </Suspense>
          </Boundary>
        </aside>
      </div>
      {edits.conflict ? <ConflictSheet edits={edits} /> : null}
    </>
  );
}

interface DrawingsProps {
  stored: Stored;
  plan: Plan;
  voidId: string;
  chooseVoid: (id: string) => void;
  preview: Preview;
  stage: StageName;
  edits: Edits;
}

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

function Drawings({ stored, plan, voidId, chooseVoid, preview, stage, edits }: DrawingsProps) {
  const { now } = useShop();
  const { zone } = useUnits();
  const clock = plan.clock;
  const [from, to] = useMemo(
    () => [new Date(clock?.from_at ?? now), new Date(clock?.to_at ?? now)],
    [clock?.from_at, clock?.to_at, now],
  );
  const present = new Date(now);
  // Before a start is set there is no now on this clock: the whole fill is shown.
  const first = plan.start_is_chosen && present > from && present < to ? present : to;
  const [cursor, setCursor] = useState<Date | null>(null);
  const [shade, setShade] = useState<Tint>("fill");
  // Shaded before anybody moved the cursor: the hottest moment, since that is what is asked.
  const at =
    cursor && cursor >= from && cursor <= to
      ? cursor
      : shade === "fill"
        ? first
        : (hottestMoment(plan, voidId) ?? first);
  const section = plan.sections.find((one) => one.void_id === voidId);
  const shaded =
    stage === "layers" && !!plan.heat_maps?.some((one) => one.void_id === voidId && one.times_s.length);
  const rows = useMemo(() => withHeat(plan, stage === "layers" || stage === "clock"), [plan, stage]);

  if (stage === "finish") return <FinishDrawing stored={stored} />;
  if (stage === "log") return <LogDrawing stored={stored} />;
  if (stage === "survey") return <SurveyDrawing stored={stored} plan={plan} edits={edits} />;
  if (!section) {
    return (
      <section className="px-7 pt-2 max-sm:px-3">
        <Empty title="Nothing measured yet">
          {(stored.piece.voids ?? []).length + (stored.piece.coats ?? []).length
            ? "This cannot be drawn yet; see what it says."
            : "Measure the first void or coat: choose its shape and type what the tape says. The section is drawn from it."}
        </Empty>
      </section>
    );
  }
  return (
    <section className="px-5 pt-1 min-w-0 max-sm:px-3" aria-label="Section and clock">
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
            `Coat: ${section.cut_note}.`
          ) : (
            <>
              Section {section.cut === "true" ? "" : "of equivalent width, "}
              {section.cut_note}, to scale. {stage === "layers" ? "Drag a boundary, or arrow keys." : ""}
            </>
          )}
        </span>
      </div>
      {section.cut === "coat" ? (
        <CoatStack
          plan={plan}
          section={section}
          coat={(stored.piece.coats ?? []).find((one) => one.id === voidId)}
          tint={stored.piece.tint ?? "#D39A3C"}
          cursor={clock ? at : null}
        />
      ) : (
        <DraggedSection
          plan={plan}
          section={section}
          tint={stored.piece.tint ?? "#D39A3C"}
          cursor={clock ? at : null}
          preview={preview}
          shade={shaded ? shade : "fill"}
        />
      )}
      {shaded ? (
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
          {preview.isTrial ? <span className="text-rust font-semibold">Preview only; not saved.</span> : null}
        </p>
      ) : preview.isTrial ? (
        <p className="text-rust font-semibold text-[13px]">Preview only; not saved.</p>
      ) : null}
      {preview.problem ? (
        <p role="alert" className="text-rust font-medium">
          {preview.problem}
        </p>
      ) : null}
      {clock ? (
        <div className="border-t border-ink mt-2 pt-2">
          <ClockRibbon
            from={from}
            to={to}
            zone={zone}
            away={clock.away}
            rows={rows}
            rowHeight={rows.some((row) => row.heat) ? 62 : 46}
            pins={clock.pins}
            cursor={at}
            onCursor={setCursor}
          />
          <ClockLegend />
          <ClockTable rows={clock.rows} zone={zone} />
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

function hottestMoment(plan: Plan, voidId: string): Date | null {
  const first = plan.clock?.rows[0]?.segments[0]?.to_at;
  const heats = plan.pours
    .flatMap((pour) => pour.layers)
    .flatMap((layer) => (layer.void_id === voidId && layer.heat ? [layer.heat] : []));
  if (!first || !heats.length) return null;
  const hottest = heats.reduce((best, heat) => (heat.peak.value > best.peak.value ? heat : best));
  return new Date(+new Date(first) + (hottest.poured_s + hottest.peak_s) * 1000);
}
