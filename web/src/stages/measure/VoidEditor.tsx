/** The readings of one void, each saved as it is typed. */
import type { Present } from "../../api/client";
import { MeshPeek } from "./MeshPeek";
import { useEffect, useState, type ReactNode } from "react";
import type { Plan, Void } from "../../api/queries";
import { like } from "../../domain/format";
import { freshId, WALLS } from "../../domain/shapes";
import type { Seldom } from "../../domain/work";
import { Fig } from "../../ui/Fig";
import { QuantityField, TextField } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { ExportMenu } from "./ExportMenu";
import { PhotoSheet } from "./files/PhotoSheet";
import { FormFields } from "./FormFields";
import { InclusionList } from "./InclusionList";
import { OutlineField, outlineText, useOutlineUnit } from "./OutlineField";
import { PortionList } from "./PortionList";
import { ShapeFields, type VoidChange } from "./ShapeFields";
import { Shares } from "./Shares";

interface Props {
  pieceId: number;
  hollow: Void;
  index: number;
  plan: Plan;
  tint: string;
  /** what this kind of work hardly needs */
  seldom: ReadonlySet<Seldom>;
  change: VoidChange;
  remove: () => Promise<void>;
}

export function VoidEditor({ pieceId, hollow, index, plan, tint, seldom, change, remove }: Props) {
  const { shape } = hollow;
  const unit = useOutlineUnit();
  const { units } = useUnits();
  const written = shape.kind === "outline" ? outlineText(shape.points_m, unit) : "";
  const [outline, setOutline] = useState(written);
  useEffect(() => setOutline(written), [written]);
  const [tracing, setTracing] = useState(false);
  const figures = plan.voids.find((one) => one.void_id === hollow.id);
  const source = "source" in shape ? shape.source : null;
  const parts: [Seldom, boolean, ReactNode][] = [
    [
      "overfill",
      !!hollow.overfill_m,
      <QuantityField
        key="overfill"
        label="overfill to sand"
        kind="length"
        optional
        origin="chosen"
        reading={hollow.overfill_m}
        pointer={`/voids/${index}/overfill_m`}
        onCommit={(reading) => change("overfill", (one) => ({ ...one, overfill_m: reading }))}
      />,
    ],
    [
      "soak",
      !!hollow.soak_m3_m2,
      <QuantityField
        key="soak"
        label="soaks in"
        kind="areal_volume"
        optional
        reading={hollow.soak_m3_m2}
        pointer={`/voids/${index}/soak_m3_m2`}
        help="0 when sealed"
        onCommit={(reading) => change("soak", (one) => ({ ...one, soak_m3_m2: reading }))}
      />,
    ],
    [
      "inclusions",
      (hollow.inclusions ?? []).length > 0,
      <InclusionList key="inclusions" hollow={hollow} index={index} change={change} />,
    ],
    [
      "colours",
      hollow.portions.length > 1,
      <PortionList
        key="colours"
        hollow={hollow}
        index={index}
        change={change}
        nextId={(taken) => freshId(`${hollow.id.slice(0, 30)}-p`, taken)}
      />,
    ],
    [
      "there",
      !!hollow.there_m,
      <QuantityField
        key="there"
        label="cured resin in it already, up to"
        kind="length"
        optional
        reading={hollow.there_m}
        pointer={`/voids/${index}/there_m`}
        help="above its floor; it is dulled first"
        onCommit={(reading) => change("what is there", (one) => ({ ...one, there_m: reading }))}
      />,
    ],
    [
      "turn",
      (hollow.turn ?? 1) > 1,
      <TextField
        key="turn"
        label="cut and poured in turn (1 first; 2 once all of 1 is hard)"
        value={String(hollow.turn ?? 1)}
        onCommit={(typed) => {
          const turn = Number(typed);
          if (!Number.isInteger(turn) || turn < 1 || turn > 20)
            throw new Error("A whole number from 1 to 20.");
          return change("its turn", (one) => ({ ...one, turn }));
        }}
      />,
    ],
    [
      "form",
      !!hollow.form,
      <FormFields
        key="form"
        hollow={hollow}
        index={index}
        figures={figures?.form ?? null}
        plan={plan}
        change={change}
      />,
    ],
  ];
  const shows = ([what, isSaid]: (typeof parts)[number]) => isSaid || !seldom.has(what);
  const more = parts.filter((one) => !shows(one));
  return (
    <div className="mt-2 grid gap-x-8 gap-y-3 grid-cols-[minmax(0,1.7fr)_minmax(250px,1fr)] max-xl:grid-cols-1">
      <div className="grid gap-2.5 content-start">
        <ShapeFields
          shape={shape}
          index={index}
          change={(what, fn) => change(what, (one) => ({ ...one, shape: fn(one.shape) }))}
        />
        {figures ? (
          <p className="text-[13px] text-slate">
            hollow to its rim <Fig figure={figures.volume} plan={plan} />
            {figures.displaced ? (
              <>
                , displaced{" "}
                <Fig
                  figure={figures.displaced}
                  plan={plan}
                  as={like(figures.displaced.value, figures.volume.value, "volume", units)}
                />
              </>
            ) : null}
            {figures.boxed ? (
              <>
                ; a box round it would hold{" "}
                <Fig
                  figure={figures.boxed}
                  plan={plan}
                  as={like(figures.boxed.value, figures.volume.value, "volume", units)}
                />
              </>
            ) : null}
          </p>
        ) : null}
        {source ? (
          <p className="text-[13px]">
            From {source.name}
            {source.read_as ? `: ${source.read_as}` : ""}.
            {source.format === "photo" && source.file ? (
              <>
                {" "}
                <a
                  className="quiet"
                  href={`/api/v1/files/${source.file}/photo.jpg`}
                  target="_blank"
                  rel="noreferrer"
                >
                  Look at the photo
                </a>{" "}
                <button className="quiet" onClick={() => setTracing(true)}>
                  Correct the tracing
                </button>
              </>
            ) : null}
          </p>
        ) : null}
        {tracing && source?.file && shape.kind === "outline" ? (
          <PhotoSheet
            file={{ sha256: source.file, kind: "photo", name: source.name, size: 0 }}
            before={source.trace}
            depth={shape.depth_m.as_typed}
            onClose={() => setTracing(false)}
            onShape={(traced) => change("corrected the tracing", (one) => ({ ...one, shape: traced }))}
          />
        ) : null}
        {shape.kind === "mesh" && shape.source.file ? (
          <MeshPeek
            shape={{ sha: shape.source.file, unit: shape.unit, up: shape.up ?? "z" }}
            levels={levelsOf(plan, hollow.id)}
            tint={tint}
          />
        ) : null}
        {figures ? <Shares shares={figures.shares ?? []} band={figures.band ?? null} plan={plan} /> : null}
        {shape.kind === "outline" && !source ? (
          <OutlineField
            text={outline}
            onText={setOutline}
            onRead={(points_m, points_as_typed) => {
              if (points_as_typed !== written)
                return change("outline", (one) => ({
                  ...one,
                  shape: { ...one.shape, points_m, points_as_typed } as Void["shape"],
                }));
            }}
          />
        ) : null}
      </div>
      <div className="grid gap-2.5 content-start">
        <div className="grid grid-cols-2 gap-2.5">
          <TextField
            label="name"
            required
            value={hollow.name}
            onCommit={(name) => change("renamed a void", (one) => ({ ...one, name }))}
          />
          <QuantityField
            label="how many alike"
            kind="count"
            reading={{ value: hollow.count ?? 1, as_typed: String(hollow.count ?? 1) }}
            pointer={`/voids/${index}/count`}
            onCommit={(reading) =>
              reading ? change("number of voids", (one) => ({ ...one, count: reading.value })) : undefined
            }
          />
          <div>
            <label className="label" htmlFor={`wall-${hollow.id}`}>
              walls of
            </label>
            <select
              id={`wall-${hollow.id}`}
              className="box"
              value={hollow.wall ?? "other"}
              onChange={(event) => {
                const wall = event.target.value as Present<Void["wall"]>;
                void change("walls", (one) => ({ ...one, wall }));
              }}
            >
              {WALLS.map((wall) => (
                <option key={wall}>{wall}</option>
              ))}
            </select>
          </div>
        </div>
        {parts.filter(shows).map(([, , node]) => node)}
        {more.length ? (
          <details>
            <summary className="quiet">More, seldom needed for this kind of work</summary>
            <div className="grid gap-2.5 mt-1">{more.map(([, , node]) => node)}</div>
          </details>
        ) : null}
        <div className="flex flex-wrap items-baseline gap-x-4">
          <ExportMenu
            pieceId={pieceId}
            hollow={hollow}
            layers={levelsOf(plan, hollow.id).length}
            damLeast={figures?.form?.dam_least.value}
          />
          <p>
            <button className="quiet" onClick={() => void remove()}>
              Remove this void
            </button>{" "}
            <span className="text-[12px] text-slate">(undo brings it back)</span>
          </p>
        </div>
      </div>
    </div>
  );
}

function levelsOf(plan: Plan, voidId: string): number[] {
  return plan.pours
    .flatMap((pour) => pour.layers)
    .filter((layer) => layer.void_id === voidId)
    .map((layer) => layer.to_m);
}
