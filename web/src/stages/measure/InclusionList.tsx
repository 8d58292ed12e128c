/** Things embedded in a void: how many, how large, how dense, between which heights. */
import { useState } from "react";
import type { Void } from "../../api/queries";
import { freshId } from "../../domain/shapes";
import { QuantityField, TextField } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { understandAll } from "../../ui/understand";

type Inclusion = NonNullable<Void["inclusions"]>[number];

interface Props {
  hollow: Void;
  index: number;
  change: (what: string, fn: (hollow: Void) => Void) => Promise<void>;
}

export function InclusionList({ hollow, index, change }: Props) {
  const things = hollow.inclusions ?? [];
  const [adding, setAdding] = useState(false);
  const set = (what: string, id: string, part: Partial<Inclusion>) =>
    change(what, (one) => ({ ...one, inclusions: (one.inclusions ?? []).map((thing) => (thing.id === id ? { ...thing, ...part } : thing)) }));
  return (
    <fieldset className="border-t border-line pt-2">
      <legend className="float-left w-full text-[13px] font-semibold">Embedded in it</legend>
      <div className="clear-both grid gap-3">
        {things.map((thing, at) => {
          const place = `/voids/${index}/inclusions/${at}`;
          return (
            <div key={thing.id} className="grid grid-cols-2 gap-2">
              <TextField label="what" required value={thing.name} onCommit={(name) => set("renamed", thing.id, { name })} />
              <QuantityField label="how many" kind="count" reading={{ value: thing.count ?? 1, as_typed: String(thing.count ?? 1) }} pointer={`${place}/count`} onCommit={(reading) => reading ? set("number embedded", thing.id, { count: reading.value }) : undefined} />
              <QuantityField label="volume of one" kind="volume" reading={thing.volume_m3} pointer={`${place}/volume_m3`} onCommit={(reading) => reading ? set("volume embedded", thing.id, { volume_m3: reading }) : undefined} />
              <QuantityField label="density" optional kind="density" reading={thing.density_kg_m3} pointer={`${place}/density_kg_m3`} onCommit={(reading) => set("density", thing.id, { density_kg_m3: reading })} />
              <QuantityField label="from height" kind="length" reading={thing.from_m} pointer={place} onCommit={(reading) => reading ? set("height", thing.id, { from_m: reading }) : undefined} />
              <QuantityField label="to height" kind="length" reading={thing.to_m} pointer={place} onCommit={(reading) => reading ? set("height", thing.id, { to_m: reading }) : undefined} />
              <label className="flex gap-2 items-center text-[13px]"><input type="checkbox" checked={thing.held_down ?? false} onChange={(event) => void set("held down", thing.id, { held_down: event.target.checked })} />held down</label>
              <button className="quiet text-left" onClick={() => void change("removed an embedded thing", (one) => ({ ...one, inclusions: (one.inclusions ?? []).filter((other) => other.id !== thing.id) }))}>Take it out</button>
            </div>
          );
        })}
        {adding ? <AddInclusion hollow={hollow} onDone={() => setAdding(false)} onAdd={(thing) => change("embedded a thing", (one) => ({ ...one, inclusions: [...(one.inclusions ?? []), thing] }))} /> : <button className="quiet text-left" onClick={() => setAdding(true)}>Embed something</button>}
      </div>
    </fieldset>
  );
}

const FIELDS = [
  { key: "count", label: "how many", kind: "count", optional: false }, { key: "volume_m3", label: "volume of one", kind: "volume", optional: false },
  { key: "density_kg_m3", label: "density", kind: "density", optional: true }, { key: "from_m", label: "from height", kind: "length", optional: false },
  { key: "to_m", label: "to height", kind: "length", optional: false },
];

function AddInclusion({ hollow, onAdd, onDone }: { hollow: Void; onAdd: (thing: Inclusion) => Promise<void>; onDone: () => void }) {
  const [name, setName] = useState("");
  const { units } = useUnits();
  const [texts, setTexts] = useState<Record<string, string>>({ count: "1" });
  const [problem, setProblem] = useState("");
  const put = (key: string) => (typed: string) => setTexts((now) => ({ ...now, [key]: typed }));
  const add = async () => {
    if (!name.trim() || FIELDS.some((field) => !field.optional && !texts[field.key]?.trim())) return setProblem("Name, number, volume and both heights are needed.");
    try {
      const { count, volume_m3, from_m, to_m, density_kg_m3 } = await understandAll(FIELDS, texts, units);
      await onAdd({ id: freshId(`${hollow.id.slice(0, 28)}-i`, (hollow.inclusions ?? []).map((one) => one.id)), name, count: count.value, volume_m3, from_m, to_m, density_kg_m3: density_kg_m3 ?? null, held_down: false });
      onDone();
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <div className="grid grid-cols-2 gap-2" role="group" aria-label="Embed something">
      <div><label className="block text-[13px] text-slate" htmlFor="new-thing">what</label><input id="new-thing" className="box" value={name} onChange={(event) => setName(event.target.value)} /></div>
      {FIELDS.map((field) => (
        <QuantityField key={field.key} label={field.label} kind={field.kind} optional={field.optional} initial={texts[field.key] ?? ""} onText={put(field.key)} onCommit={() => undefined} />
      ))}
      {problem ? <p role="alert" className="col-span-2 text-rust text-[13px]">{problem}</p> : null}
      <div className="col-span-2 flex gap-4"><button className="key" onClick={() => void add()}>Embed it</button><button className="quiet" onClick={onDone}>Never mind</button></div>
    </div>
  );
}
