/** The readings of one void, each saved as it is typed. */
import type { Present, Schemas } from "../../api/client";
import { MeshPreview } from "./MeshPreview";
import { Suspense, useEffect, useState } from "react";
import type { Plan, Void } from "../../api/queries";
import { freshId, WALLS } from "../../domain/shapes";
import { Fig } from "../../ui/Fig";
import { QuantityField, TextField } from "../../ui/QuantityField";
import { ExportMenu } from "./ExportMenu";
import { PhotoSheet } from "./files/PhotoSheet";
import { FormFields } from "./FormFields";
import { InclusionList } from "./InclusionList";
import { OutlineField, outlineText, useOutlineUnit } from "./OutlineField";
import { PortionList } from "./PortionList";
import { ShapeFields, ShapeSketch, type VoidChange } from "./ShapeFields";
import { Shares } from "./Shares";

interface Props {
  pieceId: number;
  hollow: Void;
  index: number;
  plan: Plan;
  tint: string;
  change: VoidChange;
  remove: () => Promise<void>;
}

export function VoidEditor({ pieceId, hollow, index, plan, tint, change, remove }: Props) {
  const { shape } = hollow;
  const unit = useOutlineUnit();
  const written = shape.kind === "outline" ? outlineText(shape.points_m, unit) : "";
  const [outline, setOutline] = useState(written);
  useEffect(() => setOutline(written), [written]);
  const [tracing, setTracing] = useState(false);
  const figures = plan.voids.find((one) => one.void_id === hollow.id);
  const source = "source" in shape ? shape.source : null;
  return (
    <div className="mt-2 grid gap-2.5">
      <ShapeSketch shape={shape} />
      {figures ? (
        <p className="text-[13px] text-slate">
          hollow to its rim <Fig figure={figures.volume} plan={plan} />
          {figures.displaced ? (
            <>
              , displaced <Fig figure={figures.displaced} plan={plan} />
            </>
          ) : null}
          {figures.boxed ? (
            <>
              ; a box round it would hold <Fig figure={figures.boxed} plan={plan} />
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
        <ShapeFields
          shape={shape}
          index={index}
          change={(what, fn) => change(what, (one) => ({ ...one, shape: fn(one.shape) }))}
        />
        <div>
          <label className="block text-[13px] text-slate" htmlFor={`wall-${hollow.id}`}>
            walls of
          </label>
          <select
            id={`wall-${hollow.id}`}
            className="box"
            value={hollow.wall ?? "other"}
            onChange={(event) =>
              void change("walls", (one) => ({ ...one, wall: event.target.value as Present<Void["wall"]> }))
            }
          >
            {WALLS.map((wall) => (
              <option key={wall}>{wall}</option>
            ))}
          </select>
        </div>
        <QuantityField
          label="overfill to sand"
          kind="length"
          optional
          origin="chosen"
          reading={hollow.overfill_m}
          pointer={`/voids/${index}/overfill_m`}
          onCommit={(reading) => change("overfill", (one) => ({ ...one, overfill_m: reading }))}
        />
        <QuantityField
          label="soaks in"
          kind="areal_volume"
          optional
          reading={hollow.soak_m3_m2}
          pointer={`/voids/${index}/soak_m3_m2`}
          help="0 when sealed"
          onCommit={(reading) => change("soak", (one) => ({ ...one, soak_m3_m2: reading }))}
        />
      </div>
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
      <InclusionList hollow={hollow} index={index} change={change} />
      <PortionList
        hollow={hollow}
        index={index}
        change={change}
        nextId={(taken) => freshId(`${hollow.id.slice(0, 30)}-p`, taken)}
      />
      <FormFields hollow={hollow} index={index} figures={figures?.form ?? null} plan={plan} change={change} />
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
  );
}

function levelsOf(plan: Plan, voidId: string): number[] {
  return plan.pours
    .flatMap((pour) => pour.layers)
    .filter((layer) => layer.void_id === voidId)
    .map((layer) => layer.to_m);
}

/** Three dimensions only when asked for: the script is large and most people read the section. */
function MeshPeek({
  shape,
  levels,
  tint,
}: {
  shape: { sha: string; unit: Schemas["Mesh"]["unit"]; up: Present<Schemas["Mesh"]["up"]> };
  levels: number[];
  tint: string;
}) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <button className="quiet text-left" onClick={() => setOpen(true)}>
        Show it in three dimensions
      </button>
    );
  return (
    <Suspense fallback={<p className="text-slate text-[13px]">Opening the view …</p>}>
      <MeshPreview sha={shape.sha} unit={shape.unit} up={shape.up} levels={levels} tint={tint} />
    </Suspense>
  );
}
