/** A void in the making: nothing is saved before it is whole, nothing typed is lost before that. */
import { forget, remember, remembered } from "../../api/memory";
import { readStations, understandRows } from "../../api/operations.generated";
import { RadioGroup } from "radix-ui";
import { useEffect, useState } from "react";
import { Refused, type FieldProblem } from "../../api/client";
import type { Piece, Void } from "../../api/queries";
import {
  fieldsOf,
  freshId,
  SHAPES,
  WALLS,
  withAt,
  type Shape,
  type ShapeKind,
  type SolidKind,
} from "../../domain/shapes";
import { formOf } from "../../domain/work";
import { Silhouette, VoidSketch } from "../../drawing/VoidSketch";
import { QuantityField } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { readQuantities } from "../../ui/readQuantity";
import { DrawingSheet, Radio } from "./files/DrawingSheet";
import { ACCEPT, FileDrop, type Kept } from "../../ui/FileDrop";
import { MeshSheet } from "./files/MeshSheet";
import { PhotoSheet } from "./files/PhotoSheet";
import { OutlineField, readPoints, useOutlineUnit } from "./OutlineField";
import { OnTheDrawing } from "./OnTheDrawing";
import { VOID_PLACES } from "./places";
import { ChoiceField, SolidChoice } from "./ShapeFields";
import { Tried } from "./Tried";
import { useTried } from "./useTried";

interface Draft {
  kind: ShapeKind;
  name: string;
  wall: (typeof WALLS)[number];
  texts: Record<string, string>;
  outline: string;
  rows: Record<string, string>;
  chosen: Record<string, string>;
  outer: SolidKind;
  inner: SolidKind;
}

const FRESH: Draft = {
  kind: "box",
  name: "",
  wall: "board",
  texts: {},
  outline: "",
  rows: {},
  chosen: {},
  outer: "cylinder",
  inner: "cylinder",
};

interface Props {
  pieceId: number;
  piece: Piece;
  onAdd: (hollows: Void[]) => Promise<void>;
  onCancel?: (() => void) | undefined;
}

export function AddVoid({ pieceId, piece, onAdd, onCancel }: Props) {
  const { units } = useUnits();
  const unit = useOutlineUnit();
  const store = `cavatum-draft-${pieceId}`;
  const [draft, setDraft] = useState<Draft>(() => ({
    ...FRESH,
    kind: formOf(piece.kind_of_work).shape,
    wall: formOf(piece.kind_of_work).wall,
    ...(JSON.parse(remembered("session", store) ?? "{}") as Partial<Draft>),
  }));
  const [points, setPoints] = useState<[number, number][] | null>(null);
  const [problem, setProblem] = useState<FieldProblem | null>(null);
  const [file, setFile] = useState<Kept | null>(null);
  const [csvUnit, setCsvUnit] = useState<"mm" | "cm" | "in" | null>(null);
  useEffect(() => {
    remember("session", store, JSON.stringify(draft));
  }, [draft, store]);
  const put = (part: Partial<Draft>) => setDraft((now) => ({ ...now, ...part }));
  const form = SHAPES[draft.kind];
  const fields = fieldsOf(draft.kind, draft.outer, draft.inner);

  const wrap = (shapes: { name: string; shape: Shape }[]): Void[] => {
    const taken = [...(piece.voids ?? []), ...(piece.coats ?? [])].map((one) => one.id);
    return shapes.map(({ name, shape }) => {
      const id = freshId("void", taken);
      taken.push(id);
      return {
        id,
        name: draft.name.trim() || name,
        count: 1,
        wall: draft.wall,
        shape,
        portions: [{ id: `${id}-p`, colour: "" }],
      };
    });
  };
  const keep = async (shapes: { name: string; shape: Shape }[]) => {
    await onAdd(wrap(shapes));
    forget("session", store);
  };
  /** What has still to be said; empty: the shape can be read. */
  const missing = (): string => {
    const open = fields.filter((field) => !field.optional && !draft.texts[field.key]?.trim());
    if (open.length) return `Still to measure: ${open.map((field) => field.label).join(", ")}.`;
    if (draft.kind === "outline" && !draft.outline.trim())
      return "Type the outline's points, or take it from a drawing or a photo.";
    if (draft.kind === "mesh") return "Choose the mesh file.";
    return form.rows && !draft.rows[draft.kind]?.trim() ? `Type the readings: ${form.rows.help}.` : "";
  };
  const read = async (): Promise<Shape> => {
    let shape: Record<string, unknown> = { kind: draft.kind };
    if (draft.kind === "nested")
      shape = { kind: "nested", outer: { kind: draft.outer }, inner: { kind: draft.inner } };
    for (const [key, reading] of Object.entries(await readQuantities(fields, draft.texts, units)))
      shape = withAt(shape, key, reading);
    for (const choice of form.choices ?? [])
      shape[choice.key] = draft.chosen[choice.key] ?? choice.options[0]![0];
    if (draft.kind === "outline")
      Object.assign(shape, {
        points_m: await readPoints(draft.outline, unit),
        points_as_typed: draft.outline,
      });
    if (form.rows) {
      const rows = await understandRows({ text: draft.rows[draft.kind] ?? "", unit, kind: form.rows.ask });
      shape[form.rows.key] = form.rows.ask === "stations" ? rows.stations : rows.profile;
    }
    return shape as unknown as Shape;
  };
  const add = async () => {
    const open = missing();
    if (open) return setProblem(said(open));
    try {
      await keep([{ name: form.name, shape: await read() }]);
    } catch (error) {
      setProblem(
        error instanceof Refused
          ? (error.problem.problems?.[0] ?? said(error.message))
          : said((error as Error).message),
      );
    }
  };
  const triedId = wrap([{ name: form.name, shape: {} as Shape }])[0]!.id;
  const tried = useTried(
    async () =>
      missing()
        ? null
        : {
            ...piece,
            voids: [...(piece.voids ?? []), ...wrap([{ name: form.name, shape: await read() }])],
          },
    JSON.stringify([draft, units]),
  );
  const takeStations = async (kept: Kept) => {
    const read = await readStations(kept.sha256, {
      unit: csvUnit,
    });
    const scale = unit === "in" ? 1 / 0.0254 : 1000;
    put({
      rows: {
        ...draft.rows,
        river: read.stations
          .map((one) =>
            [one.at_m, one.width_m, one.bottom_width_m]
              .filter((cell) => cell)
              .map((cell) => Number((cell!.value * scale).toFixed(3)))
              .join(" "),
          )
          .join("\n"),
      },
    });
  };

  return (
    <section aria-label="Add a void" className="mt-3 grid gap-2.5">
      <RadioGroup.Root
        aria-label="Shape"
        className="flex flex-wrap gap-1"
        value={draft.kind}
        onValueChange={(kind) => {
          put({ kind: kind as ShapeKind });
          setProblem(null);
        }}
      >
        {(Object.keys(SHAPES) as ShapeKind[]).map((kind) => (
          <RadioGroup.Item
            key={kind}
            value={kind}
            aria-label={SHAPES[kind].name}
            className={`grid justify-items-center content-start gap-0.5 w-[57px] py-1 rounded-[3px] border text-[12px] leading-tight ${draft.kind === kind ? "border-spruce bg-raised font-semibold" : "border-transparent text-slate"}`}
          >
            <Silhouette kind={kind} />
            {SHAPES[kind].short ?? SHAPES[kind].name}
          </RadioGroup.Item>
        ))}
      </RadioGroup.Root>
      <p className="text-[13px] text-slate">{form.when}.</p>
      <div className="grid gap-x-8 gap-y-3 grid-cols-[minmax(0,1.7fr)_minmax(220px,1fr)] max-xl:grid-cols-1">
        <OnTheDrawing
          places={VOID_PLACES[draft.kind] ?? {}}
          fields={fields}
          drawing={(wrong) => (
            <VoidSketch
              large
              wrong={wrong}
              kind={draft.kind}
              points={points ?? undefined}
              rows={typedRows(draft.rows[draft.kind])}
              form={draft.chosen.form}
              outer={draft.outer}
              inner={draft.inner}
            />
          )}
          field={(field, onWrong) => (
            <QuantityField
              key={`${draft.kind}-${draft.outer}-${draft.inner}-${field.key}`}
              label={field.label}
              kind={field.kind}
              optional={field.optional}
              help={field.help}
              onWrong={onWrong}
              initial={draft.texts[field.key] ?? ""}
              onText={(typed) => setDraft((now) => ({ ...now, texts: { ...now.texts, [field.key]: typed } }))}
              onCommit={() => undefined}
            />
          )}
        >
          {draft.kind === "nested" ? (
            <>
              <SolidChoice side="outer" value={draft.outer} onChoose={(outer) => put({ outer })} />
              <SolidChoice side="inner" value={draft.inner} onChoose={(inner) => put({ inner })} />
            </>
          ) : null}
          {form.choices?.map((choice) => (
            <ChoiceField
              key={choice.key}
              choice={choice}
              value={draft.chosen[choice.key] ?? choice.options[0]![0]}
              onChoose={(value) =>
                setDraft((now) => ({ ...now, chosen: { ...now.chosen, [choice.key]: value } }))
              }
            />
          ))}
        </OnTheDrawing>
        <div className="grid gap-2.5 content-start">
          <div className="grid grid-cols-2 gap-2.5">
            <div>
              <label className="label" htmlFor="void-name">
                name
              </label>
              <input
                id="void-name"
                className="box"
                placeholder={form.name}
                value={draft.name}
                onChange={(event) => put({ name: event.target.value })}
              />
            </div>
            <div>
              <label className="label" htmlFor="void-wall">
                walls of
              </label>
              <select
                id="void-wall"
                className="box"
                value={draft.wall}
                onChange={(event) => put({ wall: event.target.value as Draft["wall"] })}
              >
                {WALLS.map((wall) => (
                  <option key={wall}>{wall}</option>
                ))}
              </select>
            </div>
          </div>
          {problem ? (
            <p role="alert" className="text-rust font-medium text-[13px]">
              {problem.message} {problem.way_out}
            </p>
          ) : null}
          <div className="flex gap-4">
            {draft.kind === "mesh" ? null : (
              <button className="key" onClick={() => void add()}>
                Add it
              </button>
            )}
            {onCancel ? (
              <button className="quiet" onClick={onCancel}>
                Never mind
              </button>
            ) : null}
          </div>
          <Tried plan={tried} id={triedId} tint={piece.tint ?? "#D39A3C"} />
        </div>
      </div>
      {form.rows ? (
        <div>
          <label className="label" htmlFor="typed-rows">
            {form.rows.help}, in {unit}
          </label>
          <textarea
            id="typed-rows"
            rows={6}
            className="box font-mono text-[13px]"
            placeholder={form.rows.like}
            value={draft.rows[draft.kind] ?? ""}
            onChange={(event) => put({ rows: { ...draft.rows, [draft.kind]: event.target.value } })}
          />
        </div>
      ) : null}
      {draft.kind === "river" ? (
        <>
          <FileDrop label="Stations from a CSV file" accept={ACCEPT.stations} onKept={takeStations} />
          <div className="flex flex-wrap gap-x-3 text-[13px] items-center">
            <span className="text-slate">its unit:</span>
            <Radio
              name="csv-unit"
              word="as its header says"
              on={csvUnit === null}
              choose={() => setCsvUnit(null)}
            />
            {(["mm", "cm", "in"] as const).map((one) => (
              <Radio
                key={one}
                name="csv-unit"
                word={one}
                on={csvUnit === one}
                choose={() => setCsvUnit(one)}
              />
            ))}
          </div>
        </>
      ) : null}
      {draft.kind === "outline" ? (
        <>
          <FileDrop label="From a photo" accept={ACCEPT.photo} onKept={setFile} />
          <FileDrop label="From an SVG or DXF drawing" accept={ACCEPT.drawing} onKept={setFile} />
          <OutlineField
            text={draft.outline}
            onText={(outline) => put({ outline })}
            onRead={(found) => setPoints(found)}
          />
        </>
      ) : null}
      {draft.kind === "mesh" ? (
        <FileDrop label="Choose the STL, OBJ, PLY or 3MF file" accept={ACCEPT.mesh} onKept={setFile} />
      ) : null}
      {file?.kind === "photo" ? (
        <PhotoSheet
          file={file}
          onClose={() => setFile(null)}
          onShape={(shape) => keep([{ name: "Traced void", shape }])}
        />
      ) : null}
      {file && ["svg", "dxf"].includes(file.kind) ? (
        <DrawingSheet file={file} onClose={() => setFile(null)} onShapes={keep} />
      ) : null}
      {file && ["stl", "obj", "ply", "3mf"].includes(file.kind) ? (
        <MeshSheet
          file={file}
          onClose={() => setFile(null)}
          onShape={(shape) => keep([{ name: "Mesh void", shape }])}
        />
      ) : null}
    </section>
  );
}

/** What is typed so far, for the sketch only; the server reads it for the document. */
function typedRows(text: string | undefined): [number, number][] | undefined {
  const rows = (text ?? "")
    .split("\n")
    .map((line) =>
      line
        .trim()
        .split(/[;\s]+/)
        .map((cell) => Number(cell.replace(",", "."))),
    )
    .filter((row): row is [number, number] => row.length >= 2 && row.every(Number.isFinite));
  return rows.length > 1 ? rows : undefined;
}

function said(message: string): FieldProblem {
  return { pointer: "", message, value: "", way_out: "", code: "", choices: [] };
}
