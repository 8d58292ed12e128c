/** A piece's workspace: the tape of stages, and the open stage, which lays itself out (Spread). */
import {
  lazy,
  memo,
  Suspense,
  useEffect,
  useState,
  type ComponentType,
  type LazyExoticComponent,
} from "react";
import { useNavigate, useParams } from "react-router";
import { usePiece, usePlan, type Stored } from "../api/queries";
import { Boundary } from "../ui/Boundary";
import { isTyping } from "../ui/Frame";
import { Waiting } from "../ui/states";
import { ConflictSheet } from "./ConflictSheet";
import { DrawnProvider } from "./drawn";
import { PieceHead } from "./PieceHead";
import type { StageProps } from "./props";
import { STAGES, TapeRail, type StageName } from "./TapeRail";
import { usePieceEdits } from "./usePieceEdits";
import { usePreview } from "./usePreview";

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
      <div className="grid grid-cols-[128px_minmax(0,1fr)] max-sm:flex max-sm:flex-col">
        <Rail plan={plan} stage={stage} pieceId={stored.id} />
        <DrawnProvider
          stored={stored}
          plan={shown}
          edits={edits}
          voidId={voidId}
          chooseVoid={setChosen}
          preview={preview}
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
        </DrawnProvider>
      </div>
      {edits.conflict ? <ConflictSheet edits={edits} /> : null}
    </>
  );
}
