/** The piece from above and from the side, with its defects where they lie. A tap adds one, a drag or arrow
 *  keys move it. */
import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { Piece, Plan, Stored } from "../../api/queries";
import { text } from "../../domain/format";
import { freshId } from "../../domain/shapes";
import { useWidth } from "../../drawing/useWidth";
import { useUnits } from "../../ui/session";
import { Empty } from "../../ui/states";
import type { Edits } from "../usePieceEdits";
import { Preparation } from "./Preparation";
import { EMPTY_SURVEY, metres, type Defect, type Survey } from "./survey";

const LEFT = 22;

export function SurveyDrawing({ stored, plan, edits }: { stored: Stored; plan: Plan; edits: Edits }) {
  const survey = stored.piece.survey;
  const { units } = useUnits();
  if (!survey?.length_m || !survey.width_m) {
    return (
      <section>
        <Empty title="Stand before the piece">
          Type its length, width and thickness; it is drawn here from above and from the side. Then tap where
          a crack, a knot or a hole is.
        </Empty>
        <Preparation stored={stored} plan={plan} edits={edits} />
      </section>
    );
  }
  const [length, width] = [survey.length_m.value, survey.width_m.value];
  const thick = survey.thickness_m?.value ?? 0;
  return (
    <section className="min-w-0 pt-1" aria-label="Plan view and section">
      <p className="text-[13px] text-slate min-h-7">
        From above, to scale. Tap to mark a defect; drag it or use the arrow keys.
      </p>
      <Views survey={survey} length={length} width={width} thick={thick} edits={edits} />
      <p className="text-[12px] text-slate">
        {text(length, "length", units)} × {text(width, "length", units)}
        {thick ? ` × ${text(thick, "length", units)}` : ""}. Drawn depths are at least wide enough to see.
      </p>
      <Preparation stored={stored} plan={plan} edits={edits} />
    </section>
  );
}

/** Both drawings in one scale, as wide as there is room. */
function Views({
  survey,
  length,
  width,
  thick,
  edits,
}: {
  survey: Survey;
  length: number;
  width: number;
  thick: number;
  edits: Edits;
}) {
  const [ref, wide] = useWidth<HTMLDivElement>();
  const scale = Math.max(Math.min((wide - 2 * LEFT) / length, 330 / width), 1e-6);
  return (
    <div ref={ref}>
      {wide > 0 ? (
        <PlanView survey={survey} length={length} width={width} scale={scale} wide={wide} edits={edits} />
      ) : null}
      {wide > 0 && thick ? (
        <SideView survey={survey} length={length} thick={thick} scale={scale} wide={wide} />
      ) : null}
    </div>
  );
}

function PlanView({
  survey,
  length,
  width,
  scale,
  wide,
  edits,
}: {
  survey: Survey;
  length: number;
  width: number;
  scale: number;
  wide: number;
  edits: Edits;
}) {
  const svg = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<{ id: string; at: [number, number] } | null>(null);
  const [left, top] = [LEFT, 18];
  const defects = survey.defects ?? [];
  const change = (what: string, fn: (defects: Defect[], piece: Piece) => Defect[]) =>
    edits.edit(what, (piece) => ({
      ...piece,
      survey: { ...(piece.survey ?? EMPTY_SURVEY), defects: fn(piece.survey?.defects ?? [], piece) },
    }));
  const place = (event: { clientX: number; clientY: number }): [number, number] => {
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(
      svg.current!.getScreenCTM()!.inverse(),
    );
    return [
      Math.min(Math.max((at.x - left) / scale, 0), length),
      Math.min(Math.max(width - (at.y - top) / scale, 0), width),
    ];
  };
  const add = (event: { clientX: number; clientY: number }) => {
    const [x, y] = place(event);
    void change("marked a defect", (now) => [
      ...now,
      {
        id: freshId(
          "defect",
          now.map((one) => one.id),
        ),
        kind: "knot",
        x_m: metres(x),
        y_m: metres(y),
        length_m: metres(0.02, "typical"),
        width_m: metres(0.015, "typical"),
        depth_m: null,
        is_through: false,
        treat: "note",
        note: "",
        void_id: null,
      },
    ]);
  };
  const drop = (id: string, [x, y]: [number, number]) =>
    void change("moved a defect", (now) =>
      now.map((one) => (one.id === id ? { ...one, x_m: metres(x), y_m: metres(y) } : one)),
    );
  const keys = (defect: Defect) => (event: KeyboardEvent) => {
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    if (!step) return;
    event.preventDefault();
    const far = event.shiftKey ? 0.01 : 0.001;
    drop(defect.id, [
      Math.min(Math.max(defect.x_m.value + step[0]! * far, 0), length),
      Math.min(Math.max(defect.y_m.value + step[1]! * far, 0), width),
    ]);
  };
  return (
    <svg
      ref={svg}
      width={wide}
      height={width * scale + 34}
      className="block text-[12px] touch-none"
      role="group"
      aria-label="Plan view"
      onPointerMove={(event) => held && setHeld({ ...held, at: place(event) })}
      onPointerUp={() => {
        if (held) drop(held.id, held.at);
        setHeld(null);
      }}
    >
      <defs>
        <pattern id="board-grain" width="46" height="11" patternUnits="userSpaceOnUse">
          <path
            d="M0 3C12 0 30 7 46 3M0 9C16 7 28 12 46 9"
            fill="none"
            className="stroke-slate"
            strokeWidth="0.5"
            opacity="0.55"
          />
        </pattern>
      </defs>
      <rect x={left} y={top} width={length * scale} height={width * scale} fill="var(--form)" />
      <rect
        x={left}
        y={top}
        width={length * scale}
        height={width * scale}
        fill="url(#board-grain)"
        className="stroke-ink cursor-crosshair"
        strokeWidth="1.4"
        onClick={add}
      />
      {defects.map((defect, index) => {
        const at: [number, number] = held?.id === defect.id ? held.at : [defect.x_m.value, defect.y_m.value];
        const [x, y] = [left + at[0] * scale, top + (width - at[1]) * scale];
        return (
          <g
            key={defect.id}
            role="button"
            tabIndex={0}
            aria-label={`${index + 1}, ${defect.kind}${defect.is_through ? ", through" : ""}; arrow keys move it`}
            className="cursor-move"
            onKeyDown={keys(defect)}
            onPointerDown={(event: PointerEvent) => {
              event.stopPropagation();
              svg.current!.setPointerCapture(event.pointerId);
              setHeld({ id: defect.id, at });
            }}
          >
            <circle cx={x} cy={y} r="16" fill="transparent" />
            <Mark
              kind={defect.kind}
              x={x}
              y={y}
              wide={Math.max(defect.length_m.value * scale, 9)}
              high={Math.max(defect.width_m.value * scale, 5)}
              through={defect.is_through ?? false}
            />
            <text
              x={x + Math.max(defect.length_m.value * scale, 9) / 2 + 4}
              y={y - 5}
              fontWeight="700"
              style={{ paintOrder: "stroke", stroke: "var(--form)", strokeWidth: 3 }}
            >
              {index + 1}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

/** A sign for each kind; through: filled black. */
function Mark({
  kind,
  x,
  y,
  wide,
  high,
  through,
}: {
  kind: Defect["kind"];
  x: number;
  y: number;
  wide: number;
  high: number;
  through: boolean;
}) {
  const fill = through ? "var(--ink)" : "var(--liquid)";
  const [a, b] = [wide / 2, high / 2];
  if (kind === "crack")
    return (
      <path
        d={`M${x - a} ${y}l${a * 0.5} ${-b}l${a * 0.5} ${b * 1.4}l${a * 0.5} ${-b}l${a * 0.5} ${b * 0.6}l${-a * 0.5} ${b * 0.7}l${-a * 0.5} ${-b * 0.2}l${-a * 0.6} ${b * 0.3}Z`}
        fill={fill}
        className="stroke-ink"
        strokeWidth="1.1"
      />
    );
  if (kind === "bark")
    return (
      <path
        d={`M${x - a} ${y}q${a * 0.5} ${-high} ${a} 0t${a} 0v${b}q${-a * 0.5} ${high} ${-a} 0t${-a} 0Z`}
        fill={fill}
        className="stroke-ink"
        strokeWidth="1.1"
      />
    );
  if (kind === "punky patch")
    return (
      <ellipse
        cx={x}
        cy={y}
        rx={a}
        ry={b}
        fill={fill}
        fillOpacity="0.6"
        className="stroke-ink"
        strokeDasharray="2 3"
        strokeWidth="1.2"
      />
    );
  if (kind === "worm hole")
    return <circle cx={x} cy={y} r={Math.max(b, 3)} fill={fill} className="stroke-ink" strokeWidth="1.1" />;
  return (
    <g>
      <ellipse cx={x} cy={y} rx={a} ry={b} fill={fill} className="stroke-ink" strokeWidth="1.1" />
      {through ? null : (
        <ellipse cx={x} cy={y} rx={a / 2} ry={b / 2} fill="none" className="stroke-ink" strokeWidth="0.8" />
      )}
    </g>
  );
}

function SideView({
  survey,
  length,
  thick,
  scale,
  wide: across,
}: {
  survey: Survey;
  length: number;
  thick: number;
  scale: number;
  wide: number;
}) {
  const [left, tall] = [LEFT, Math.max(thick * scale, 16)];
  const down = tall / thick;
  return (
    <svg
      width={across}
      height={tall + 28}
      className="block text-[12px]"
      role="img"
      aria-label="From the side: how deep each defect goes"
    >
      <rect
        x={left}
        y={8}
        width={length * scale}
        height={tall}
        fill="var(--form)"
        className="stroke-ink"
        strokeWidth="1.4"
      />
      <rect x={left} y={8} width={length * scale} height={tall} fill="url(#board-grain)" />
      {(survey.defects ?? []).map((defect, index) => {
        const deep = defect.is_through ? thick : (defect.depth_m?.value ?? 0);
        const x = left + defect.x_m.value * scale;
        const wide = Math.max(defect.length_m.value * scale, 4);
        return (
          <g key={defect.id}>
            {deep ? (
              <path
                d={`M${x - wide / 2} 8H${x + wide / 2}L${x + wide / 4} ${8 + Math.min(deep * down, tall)}H${x - wide / 4}Z`}
                fill={defect.is_through ? "var(--paper)" : "var(--liquid)"}
                className="stroke-ink"
              />
            ) : (
              <text x={x} y={8 + tall / 2 + 4} textAnchor="middle">
                ?
              </text>
            )}
            <text x={x} y={tall + 22} textAnchor="middle" fontWeight="700">
              {index + 1}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
