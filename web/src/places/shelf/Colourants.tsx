/** Pigments, dyes, flakes, glitters and fillers: density, size, limit, water, one drop calibrated by
 *  weighing. */
import { calibrateDrops, readGoodsClasses, retireGood } from "../../api/operations.generated";
import { useKeepGoods } from "../../api/changes";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { type Schemas, type Present } from "../../api/client";
import { useEverythingAnew } from "../../api/queries";
import { freshId } from "../../domain/shapes";
import { complaint } from "../../ui/FileDrop";
import { QuantityField, TextField, type Reading } from "../../ui/QuantityField";
import { Choice, Compared } from "./sheet-parts";

type Colourant = Schemas["Colourant"];
const FIELDS: [keyof Colourant, string, string, boolean?][] = [
  ["density_kg_m3", "density", "density"],
  ["most", "at most, of the mix", "fraction"],
  ["size_m", "grain or flake, across", "length", true],
  ["thick_m", "… thick", "length", true],
];

export function Colourants({ all }: { all: Colourant[] }) {
  const anew = useEverythingAnew();
  const classes = useQuery({
    queryKey: ["goods-classes"],
    queryFn: () => readGoodsClasses(),
  });
  const [from, setFrom] = useState("mica-powder");
  const keep = useKeepGoods("colourant", all);
  const add = () => {
    const start = classes.data?.colourants.find((one) => one.id === from);
    return start
      ? keep({
          ...start,
          id: freshId(
            "colourant",
            all.map((one) => one.id),
          ),
          name: `${start.name}, mine`,
          version: 1,
        })
      : undefined;
  };
  return (
    <section className="mt-8" aria-label="Colourants and fillers">
      <h2 className="border-b border-ink">Colourants and fillers</h2>
      {all.map((one) => (
        <ColourantView
          key={one.id}
          one={one}
          keep={keep}
          onRemove={async () => {
            await retireGood("colourant", one.id);
            await anew();
          }}
        />
      ))}
      <div className="flex gap-3 items-end mt-3">
        <div className="w-60">
          <Choice
            label="another, starting from"
            value={from}
            options={(classes.data?.colourants ?? []).map((one) => [one.id, one.name])}
            onChange={setFrom}
          />
        </div>
        <button className="key" onClick={() => void add()}>
          Put it on the shelf
        </button>
      </div>
    </section>
  );
}

function ColourantView({
  one,
  keep,
  onRemove,
}: {
  one: Colourant;
  keep: (one: Colourant) => Promise<void>;
  onRemove: () => Promise<void>;
}) {
  const put = (key: keyof Colourant, optional?: boolean) => (reading: Reading | null) =>
    reading || optional ? keep({ ...one, [key]: reading }) : undefined;
  return (
    <details className="border-b border-line py-1">
      <summary className="cursor-pointer font-medium">
        {one.name}{" "}
        <span className="text-slate font-normal text-[13px]">
          {one.kind} · at most {(100 * one.most.value).toFixed(1).replace(/\.0$/, "")} %
          {one.most.origin === "typical" ? <span className="text-rust"> typical</span> : null} ·{" "}
          {one.water === "not said" ? <span className="text-rust">water: not said</span> : one.water}
        </span>
      </summary>
      <div className="grid grid-cols-3 gap-3 mt-2 mb-3 max-md:grid-cols-2">
        <TextField label="name" required value={one.name} onCommit={(name) => keep({ ...one, name })} />
        <Choice
          label={`${one.name} is`}
          value={one.kind}
          options={[
            "mica powder",
            "pigment powder",
            "pigment paste",
            "liquid dye",
            "flake",
            "glitter",
            "filler",
            "wood dust",
          ].map((kind) => [kind, kind])}
          onChange={(kind) => keep({ ...one, kind: kind as Colourant["kind"] })}
        />
        <Choice
          label={`water in ${one.name}`}
          value={one.water ?? "not said"}
          options={["not said", "water-free", "water-based"].map((water) => [water, water])}
          onChange={(water) => keep({ ...one, water: water as Present<Colourant["water"]> })}
        />
        {FIELDS.map(([key, label, kind, optional]) => (
          <Compared key={key} reading={one[key] as Reading | null} onSame={put(key)}>
            <QuantityField
              label={label}
              kind={kind}
              optional={optional}
              origin="sheet"
              reading={one[key] as Reading | null}
              onCommit={put(key, optional)}
            />
          </Compared>
        ))}
        <Drops one={one} keep={keep} />
        <button className="quiet text-left self-end" onClick={() => void onRemove()}>
          Take it off the shelf
        </button>
      </div>
    </details>
  );
}

/** One drop from a weighed number of them: twenty or fifty counted into a cup. */
function Drops({ one, keep }: { one: Colourant; keep: (one: Colourant) => Promise<void> }) {
  const [drops, setDrops] = useState<Reading | null>(null);
  const [problem, setProblem] = useState("");
  const weigh = async (mass: Reading | null) => {
    if (!mass || !drops) return setProblem(mass ? "Say first how many drops these are." : "");
    try {
      const found = await calibrateDrops({ drops: drops.value, mass });
      await keep({
        ...one,
        drop_kg: { value: found.drop_kg, origin: "measured" } as Present<Colourant["drop_kg"]>,
      });
      setProblem(`To ${(100 * found.off).toFixed(1)} % by the scale's step.`);
    } catch (error) {
      setProblem(complaint(error));
    }
  };
  return (
    <div className="col-span-2 grid grid-cols-2 gap-3">
      <QuantityField
        label={`drops of ${one.name} counted`}
        kind="count"
        reading={drops}
        optional
        help={
          one.drop_kg
            ? `one drop weighs ${(one.drop_kg.value * 1e6).toFixed(0)} mg`
            : "not calibrated: a drop is anything from 0.03 to 0.05 mL"
        }
        onCommit={setDrops}
      />
      <QuantityField label="they weigh together" kind="mass" optional help={problem} onCommit={weigh} />
    </div>
  );
}
