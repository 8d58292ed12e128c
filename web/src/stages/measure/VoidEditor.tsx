/** The readings of one void, each saved as it is typed. */
import { useEffect, useState } from "react";
import type { Plan, Void } from "../../api/queries";
import { freshId, SHAPES, WALLS } from "../../domain/shapes";
import { VoidSketch } from "../../drawing/VoidSketch";
import { Fig } from "../../ui/Fig";
import { QuantityField, TextField, type Reading } from "../../ui/QuantityField";
import { OutlineField, outlineText, useOutlineUnit } from "./OutlineField";
import { InclusionList } from "./InclusionList";
import { PortionList } from "./PortionList";

interface Props {
  hollow: Void;
  index: number;
  plan: Plan;
  change: (what: string, fn: (hollow: Void) => Void) => Promise<void>;
  remove: () => Promise<void>;
}

export function VoidEditor({ hollow, index, plan, change, remove }: Props) {
  const { shape } = hollow;
  const readings = shape as unknown as Record<string, Reading | null>;
  const unit = useOutlineUnit();
  const written = shape.kind === "outline" ? outlineText(shape.points_m as [number, number][], unit) : "";
  const [outline, setOutline] = useState(written);
  useEffect(() => setOutline(written), [written]);
  const figures = plan.voids.find((one) => one.void_id === hollow.id);
  const marks = Object.fromEntries(SHAPES[shape.kind!].fields.map((field) => [field.key, readings[field.key]?.as_typed ?? ""]));
  return (
    <div className="mt-2 grid gap-2.5">
      <VoidSketch kind={shape.kind!} marks={marks} points={shape.kind === "outline" ? (shape.points_m as [number, number][]) : undefined} />
      {figures ? <p className="text-[13px] text-slate">hollow to its rim <Fig figure={figures.volume} plan={plan} />{figures.displaced ? <>, displaced <Fig figure={figures.displaced} plan={plan} /></> : null}</p> : null}
      <div className="grid grid-cols-2 gap-2.5">
        <TextField label="name" required value={hollow.name} onCommit={(name) => change("renamed a void", (one) => ({ ...one, name }))} />
        <QuantityField label="how many alike" kind="count" reading={{ value: hollow.count ?? 1, as_typed: String(hollow.count ?? 1) }} pointer={`/voids/${index}/count`} onCommit={(reading) => reading ? change("number of voids", (one) => ({ ...one, count: reading.value })) : undefined} />
        {SHAPES[shape.kind!].fields.map((field) => (
          <QuantityField key={field.key} label={field.label} kind={field.kind} optional={field.optional} reading={readings[field.key]} pointer={`/voids/${index}/shape/${field.key}`}
            onCommit={(reading) => change(field.label, (one) => ({ ...one, shape: { ...one.shape, [field.key]: reading } as Void["shape"] }))} />
        ))}
        <div>
          <label className="block text-[13px] text-slate" htmlFor={`wall-${hollow.id}`}>walls of</label>
          <select id={`wall-${hollow.id}`} className="box" value={hollow.wall ?? "other"} onChange={(event) => void change("walls", (one) => ({ ...one, wall: event.target.value as Void["wall"] }))}>
            {WALLS.map((wall) => <option key={wall}>{wall}</option>)}
          </select>
        </div>
        <QuantityField label="overfill to sand" kind="length" optional origin="chosen" reading={hollow.overfill_m} pointer={`/voids/${index}/overfill_m`} onCommit={(reading) => change("overfill", (one) => ({ ...one, overfill_m: reading }))} />
        <QuantityField label="soaks in" kind="areal_volume" optional reading={hollow.soak_m3_m2} pointer={`/voids/${index}/soak_m3_m2`} help="0 when sealed" onCommit={(reading) => change("soak", (one) => ({ ...one, soak_m3_m2: reading }))} />
      </div>
      {shape.kind === "outline" ? (
        <OutlineField text={outline} onText={setOutline} onRead={(points_m, points_as_typed) => {
          if (points_as_typed !== written) return change("outline", (one) => ({ ...one, shape: { ...one.shape, points_m, points_as_typed } as Void["shape"] }));
        }} />
      ) : null}
      <InclusionList hollow={hollow} index={index} change={change} />
      <PortionList hollow={hollow} index={index} change={change} nextId={(taken) => freshId(`${hollow.id.slice(0, 30)}-p`, taken)} />
      <p><button className="quiet" onClick={() => void remove()}>Remove this void</button> <span className="text-[12px] text-slate">(undo brings it back)</span></p>
    </div>
  );
}
