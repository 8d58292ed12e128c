/** A void in the making: nothing is saved before it is whole, nothing typed is lost before that. */
import { useEffect, useState } from "react";
import { Refused, type FieldProblem } from "../../api/client";
import type { Piece, Void } from "../../api/queries";
import { freshId, SHAPES, WALLS, type ShapeKind } from "../../domain/shapes";
import { VoidSketch } from "../../drawing/VoidSketch";
import { QuantityField } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { understandAll } from "../../ui/understand";
import { OutlineField, readPoints, useOutlineUnit } from "./OutlineField";

interface Draft {
  kind: ShapeKind;
  name: string;
  wall: (typeof WALLS)[number];
  texts: Record<string, string>;
  outline: string;
}

const FRESH: Draft = { kind: "box", name: "", wall: "board", texts: {}, outline: "" };

interface Props {
  pieceId: number;
  piece: Piece;
  onAdd: (hollow: Void) => Promise<void>;
  onCancel?: () => void;
}

export function AddVoid({ pieceId, piece, onAdd, onCancel }: Props) {
  const { units } = useUnits();
  const unit = useOutlineUnit();
  const store = `cavatum-draft-${pieceId}`;
  const [draft, setDraft] = useState<Draft>(() => ({ ...FRESH, ...(JSON.parse(sessionStorage.getItem(store) ?? "{}") as Partial<Draft>) }));
  const [points, setPoints] = useState<[number, number][] | null>(null);
  const [problem, setProblem] = useState<FieldProblem | null>(null);
  useEffect(() => sessionStorage.setItem(store, JSON.stringify(draft)), [draft, store]);
  const put = (part: Partial<Draft>) => setDraft((now) => ({ ...now, ...part }));
  const fields = SHAPES[draft.kind].fields;

  const add = async () => {
    const missing = fields.filter((field) => !field.optional && !draft.texts[field.key]?.trim());
    if (missing.length) return setProblem(said(`Still to measure: ${missing.map((field) => field.label).join(", ")}.`));
    if (draft.kind === "outline" && !draft.outline.trim()) return setProblem(said("Type the outline's points."));
    try {
      const shape: Record<string, unknown> = { kind: draft.kind, ...(await understandAll(fields, draft.texts, units)) };
      if (draft.kind === "outline") Object.assign(shape, { points_m: await readPoints(draft.outline, unit), points_as_typed: draft.outline });
      const id = freshId("void", (piece.voids ?? []).map((one) => one.id));
      await onAdd({ id, name: draft.name.trim() || SHAPES[draft.kind].name, count: 1, wall: draft.wall, shape: shape as unknown as Void["shape"], portions: [{ id: `${id}-p`, colour: "" }] });
      sessionStorage.removeItem(store);
    } catch (error) {
      setProblem(error instanceof Refused ? (error.problem.problems?.[0] ?? said(error.message)) : said((error as Error).message));
    }
  };

  return (
    <section aria-label="Add a void" className="mt-2 grid gap-2.5">
      <div role="radiogroup" aria-label="Shape" className="flex flex-wrap gap-x-3 gap-y-1">
        {(Object.keys(SHAPES) as ShapeKind[]).map((kind) => (
          <button key={kind} role="radio" aria-checked={draft.kind === kind} className={`min-h-8 border-b-2 ${draft.kind === kind ? "border-spruce font-semibold" : "border-transparent text-slate"}`} onClick={() => put({ kind })}>{SHAPES[kind].name}</button>
        ))}
      </div>
      <VoidSketch kind={draft.kind} points={points ?? undefined} marks={Object.fromEntries(fields.map((field) => [field.key, draft.texts[field.key] || field.mark]))} />
      <div className="grid grid-cols-2 gap-2.5">
        <div><label className="block text-[13px] text-slate" htmlFor="void-name">name</label><input id="void-name" className="box" placeholder={SHAPES[draft.kind].name} value={draft.name} onChange={(event) => put({ name: event.target.value })} /></div>
        <div>
          <label className="block text-[13px] text-slate" htmlFor="void-wall">walls of</label>
          <select id="void-wall" className="box" value={draft.wall} onChange={(event) => put({ wall: event.target.value as Draft["wall"] })}>{WALLS.map((wall) => <option key={wall}>{wall}</option>)}</select>
        </div>
        {fields.map((field) => (
          <QuantityField key={`${draft.kind}-${field.key}`} label={field.label} kind={field.kind} optional={field.optional} initial={draft.texts[field.key] ?? ""}
            onText={(typed) => setDraft((now) => ({ ...now, texts: { ...now.texts, [field.key]: typed } }))} onCommit={() => undefined} />
        ))}
      </div>
      {draft.kind === "outline" ? (
        <OutlineField text={draft.outline} onText={(outline) => put({ outline })} onRead={(found) => setPoints(found)} />
      ) : null}
      {problem ? <p role="alert" className="text-rust font-medium text-[13px]">{problem.message} {problem.way_out}</p> : null}
      <div className="flex gap-4"><button className="key" onClick={() => void add()}>Add it</button>{onCancel ? <button className="quiet" onClick={onCancel}>Never mind</button> : null}</div>
    </section>
  );
}

function said(message: string): FieldProblem {
  return { pointer: "", message, value: "", way_out: "", code: "", choices: [] };
}
