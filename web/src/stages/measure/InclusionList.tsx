/** Things embedded in a void: how many, how large, how dense, between which heights. */
import type { Present } from "../../api/client";
import { useState } from "react";
import type { Void } from "../../api/queries";
import { freshId } from "../../domain/shapes";
import { QuantityField, TextField } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { readQuantities } from "../../ui/readQuantity";
import { ChoiceField } from "./ShapeFields";
import { Check } from "../../ui/Check";

type Inclusion = NonNullable<Void["inclusions"]>[number];

/** What takes up heat, and how much: as long as nobody says, it counts as resin. */
const STUFF: [string, string][] = [
  ["", "not said"],
  ["wood", "wood, cones, plants"],
  ["stone", "stone, shell"],
  ["metal", "metal"],
  ["glass", "glass"],
  ["plastic", "plastic, cured resin"],
];

interface Props {
  hollow: Void;
  index: number;
  change: (what: string, fn: (hollow: Void) => Void) => Promise<void>;
}

export function InclusionList({ hollow, index, change }: Props) {
  const things = hollow.inclusions ?? [];
  const [adding, setAdding] = useState(false);
  const set = (what: string, id: string, part: Partial<Inclusion>) =>
    change(what, (one) => ({
      ...one,
      inclusions: (one.inclusions ?? []).map((thing) => (thing.id === id ? { ...thing, ...part } : thing)),
    }));
  return (
    <fieldset className="border-t border-line pt-2">
      <legend className="float-left w-full text-[13px] font-semibold">Embedded in it</legend>
      <div className="clear-both grid gap-3">
        {things.map((thing, at) => {
          const place = `/voids/${index}/inclusions/${at}`;
          return (
            <div key={thing.id} className="grid grid-cols-2 gap-2">
              <TextField
                label="what"
                required
                value={thing.name}
                onCommit={(name) => set("renamed", thing.id, { name })}
              />
              <QuantityField
                label="how many"
                kind="count"
                reading={{ value: thing.count ?? 1, as_typed: String(thing.count ?? 1) }}
                pointer={`${place}/count`}
                onCommit={(reading) =>
                  reading ? set("number embedded", thing.id, { count: reading.value }) : undefined
                }
              />
              <WayFields thing={thing} place={place} set={(what, part) => set(what, thing.id, part)} />
              <QuantityField
                label="density"
                optional
                kind="density"
                reading={thing.density_kg_m3}
                pointer={`${place}/density_kg_m3`}
                onCommit={(reading) => set("density", thing.id, { density_kg_m3: reading })}
              />
              <ChoiceField
                choice={{ key: `made-of-${thing.id}`, label: "made of", options: STUFF }}
                value={thing.made_of ?? ""}
                onChoose={(one) =>
                  void set("what it is made of", thing.id, {
                    made_of: one ? (one as NonNullable<Inclusion["made_of"]>) : null,
                  })
                }
              />
              <QuantityField
                label="from height"
                kind="length"
                reading={thing.from_m}
                pointer={place}
                onCommit={(reading) => (reading ? set("height", thing.id, { from_m: reading }) : undefined)}
              />
              <QuantityField
                label="to height"
                kind="length"
                reading={thing.to_m}
                pointer={place}
                onCommit={(reading) => (reading ? set("height", thing.id, { to_m: reading }) : undefined)}
              />
              <Check
                checked={thing.held_down ?? false}
                onChange={(on) => set("held down", thing.id, { held_down: on })}
              >
                held down
              </Check>
              <Check
                checked={thing.is_hollow ?? false}
                onChange={(on) => set("hollow", thing.id, { is_hollow: on })}
              >
                hollow inside
              </Check>
              <button
                className="quiet text-left"
                onClick={() =>
                  void change("removed an embedded thing", (one) => ({
                    ...one,
                    inclusions: (one.inclusions ?? []).filter((other) => other.id !== thing.id),
                  }))
                }
              >
                Take it out
              </button>
            </div>
          );
        })}
        {adding ? (
          <AddInclusion
            hollow={hollow}
            onDone={() => setAdding(false)}
            onAdd={(thing) =>
              change("embedded a thing", (one) => ({
                ...one,
                inclusions: [...(one.inclusions ?? []), thing],
              }))
            }
          />
        ) : (
          <button className="quiet text-left" onClick={() => setAdding(true)}>
            Embed something
          </button>
        )}
      </div>
    </fieldset>
  );
}

type Way = "volume" | "size" | "mass";
const WAYS: [Way, string][] = [
  ["volume", "volume, or what it displaces"],
  ["size", "three sizes"],
  ["mass", "mass and density"],
];
const FORMS: [string, string][] = [
  ["block", "block"],
  ["egg", "egg-shaped"],
  ["rod", "round rod"],
];

/** The readings of the way one thing was measured. Of a sample: so many weighed or dipped together. */
function WayFields({
  thing,
  place,
  set,
}: {
  thing: Inclusion;
  place: string;
  set: (what: string, part: Partial<Inclusion>) => Promise<void>;
}) {
  const sample = (
    <QuantityField
      label="measured together"
      kind="count"
      help="1: each by itself"
      reading={{ value: thing.sample ?? 1, as_typed: String(thing.sample ?? 1) }}
      pointer={`${place}/sample`}
      onCommit={(reading) => (reading ? set("sample", { sample: reading.value }) : undefined)}
    />
  );
  if (thing.size_m) {
    const size = thing.size_m;
    return (
      <>
        <ChoiceField
          choice={{ key: `form-${thing.id}`, label: "form", options: FORMS }}
          value={size.form ?? "block"}
          onChoose={(form) =>
            void set("form", { size_m: { ...size, form: form as Present<typeof size.form> } })
          }
        />
        {(["length_m", "width_m", "height_m"] as const).map((key) => (
          <QuantityField
            key={key}
            label={key.slice(0, -2)}
            kind="length"
            reading={size[key]}
            pointer={`${place}/size_m/${key}`}
            onCommit={(reading) =>
              reading ? set("size", { size_m: { ...size, [key]: reading } }) : undefined
            }
          />
        ))}
      </>
    );
  }
  if (thing.mass_kg)
    return (
      <>
        <QuantityField
          label="mass"
          kind="mass"
          reading={thing.mass_kg}
          pointer={`${place}/mass_kg`}
          onCommit={(reading) => (reading ? set("mass", { mass_kg: reading }) : undefined)}
        />
        {sample}
      </>
    );
  return (
    <>
      <QuantityField
        label={(thing.sample ?? 1) > 1 ? "volume together" : "volume of one"}
        kind="volume"
        reading={thing.volume_m3}
        pointer={`${place}/volume_m3`}
        onCommit={(reading) => (reading ? set("volume embedded", { volume_m3: reading }) : undefined)}
      />
      {sample}
    </>
  );
}

const HEIGHTS = [
  { key: "from_m", label: "from height", kind: "length", optional: false },
  { key: "to_m", label: "to height", kind: "length", optional: false },
];
const BY_WAY: Record<Way, { key: string; label: string; kind: string; optional: boolean }[]> = {
  volume: [
    { key: "volume_m3", label: "volume of one", kind: "volume", optional: false },
    { key: "density_kg_m3", label: "density", kind: "density", optional: true },
  ],
  size: [
    { key: "size.length_m", label: "length of one", kind: "length", optional: false },
    { key: "size.width_m", label: "width", kind: "length", optional: false },
    { key: "size.height_m", label: "height", kind: "length", optional: false },
    { key: "density_kg_m3", label: "density", kind: "density", optional: true },
  ],
  mass: [
    { key: "mass_kg", label: "mass", kind: "mass", optional: false },
    { key: "sample", label: "weighed together", kind: "count", optional: false },
    { key: "density_kg_m3", label: "density", kind: "density", optional: false },
  ],
};

function AddInclusion({
  hollow,
  onAdd,
  onDone,
}: {
  hollow: Void;
  onAdd: (thing: Inclusion) => Promise<void>;
  onDone: () => void;
}) {
  const [name, setName] = useState("");
  const [way, setWay] = useState<Way>("volume");
  const [form, setForm] = useState("block");
  const { units } = useUnits();
  const [texts, setTexts] = useState<Record<string, string>>({ count: "1", sample: "1" });
  const [problem, setProblem] = useState("");
  const fields = [
    { key: "count", label: "how many", kind: "count", optional: false },
    ...BY_WAY[way],
    ...HEIGHTS,
  ];
  const put = (key: string) => (typed: string) => setTexts((now) => ({ ...now, [key]: typed }));
  const add = async () => {
    if (!name.trim() || fields.some((field) => !field.optional && !texts[field.key]?.trim()))
      return setProblem("Name, number, how large it is and both heights are needed.");
    try {
      const read = await readQuantities(fields, texts, units);
      const size =
        way === "size"
          ? {
              form: form as "block",
              length_m: read["size.length_m"]!,
              width_m: read["size.width_m"]!,
              height_m: read["size.height_m"]!,
            }
          : null;
      await onAdd({
        id: freshId(
          `${hollow.id.slice(0, 28)}-i`,
          (hollow.inclusions ?? []).map((one) => one.id),
        ),
        name,
        count: read.count!.value,
        sample: read.sample?.value ?? 1,
        size_m: size,
        volume_m3: read.volume_m3 ?? null,
        mass_kg: read.mass_kg ?? null,
        from_m: read.from_m!,
        to_m: read.to_m!,
        density_kg_m3: read.density_kg_m3 ?? null,
        held_down: false,
        is_hollow: false,
      });
      onDone();
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <div className="grid grid-cols-2 gap-2" role="group" aria-label="Embed something">
      <div>
        <label className="label" htmlFor="new-thing">
          what
        </label>
        <input
          id="new-thing"
          className="box"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </div>
      <ChoiceField
        choice={{ key: "way", label: "measured by", options: WAYS }}
        value={way}
        onChoose={(value) => setWay(value as Way)}
      />
      {way === "size" ? (
        <ChoiceField
          choice={{ key: "form-new", label: "form", options: FORMS }}
          value={form}
          onChoose={setForm}
        />
      ) : null}
      {fields.map((field) => (
        <QuantityField
          key={field.key}
          label={field.label}
          kind={field.kind}
          optional={field.optional}
          initial={texts[field.key] ?? ""}
          onText={put(field.key)}
          onCommit={() => undefined}
        />
      ))}
      {problem ? (
        <p role="alert" className="col-span-2 text-rust text-[13px]">
          {problem}
        </p>
      ) : null}
      <div className="col-span-2 flex gap-4">
        <button className="key" onClick={() => void add()}>
          Embed it
        </button>
        <button className="quiet" onClick={onDone}>
          Never mind
        </button>
      </div>
    </div>
  );
}
