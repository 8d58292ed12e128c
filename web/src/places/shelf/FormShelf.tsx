/** Moulds and form materials with what heat needs to know of them. */
import { readGoodsClasses, retireGood } from "../../api/operations.generated";
import { useKeepGoods } from "../../api/changes";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { useEverythingAnew, useShelfItems } from "../../api/queries";
import { freshId } from "../../domain/shapes";
import { Check } from "../../ui/Check";
import { QuantityField, TextField, type Reading } from "../../ui/QuantityField";
import { Waiting } from "../../ui/states";
import { Choice, Compared } from "./sheet-parts";
import { WALLS } from "../../stages/layers/Around";

type Material = Schemas["FormMaterial"];
const FIELDS: [keyof Material, string, string, boolean?][] = [
  ["conductivity_w_m_k", "conductivity", "conductivity"],
  ["density_kg_m3", "density", "density"],
  ["heat_capacity_j_kg_k", "heat capacity", "heat_capacity"],
  ["thickness_m", "wall, thick", "length", true],
  ["holds_m3", "holds", "volume", true],
];

export function FormShelf() {
  const shelfItems = useShelfItems();
  const classes = useQuery({
    queryKey: ["goods-classes"],
    queryFn: () => readGoodsClasses(),
  });
  const anew = useEverythingAnew();
  const [from, setFrom] = useState("silicone");
  const all = Object.values(shelfItems.data?.materials ?? {});
  const keep = useKeepGoods("material", all);
  if (!shelfItems.data) return <Waiting error={shelfItems.error} what="the forms" />;
  const add = () => {
    const start = classes.data?.materials.find((one) => one.id === from);
    return start
      ? keep({
          ...start,
          id: freshId(
            "form",
            all.map((one) => one.id),
          ),
          name: `${start.name}, mine`,
          version: 1,
        })
      : undefined;
  };
  return (
    <section className="px-7 py-3 max-w-[900px] max-sm:px-3" aria-label="Moulds and forms">
      <p className="text-slate">
        A form steals heat or keeps it in. Choose one of these for a void under Layers, "What stands round
        it"; typical values are marked until you put in your own.
      </p>
      {all.map((one) => (
        <MaterialView
          key={one.id}
          one={one}
          keep={keep}
          onRemove={async () => {
            await retireGood("material", one.id);
            await anew();
          }}
        />
      ))}
      <div className="flex gap-3 items-end mt-5">
        <div className="w-60">
          <Choice
            label="another one, starting from"
            value={from}
            options={(classes.data?.materials ?? []).map((one) => [one.id, one.name])}
            onChange={setFrom}
          />
        </div>
        <button className="key" onClick={() => void add()}>
          Add it
        </button>
      </div>
    </section>
  );
}

function MaterialView({
  one,
  keep,
  onRemove,
}: {
  one: Material;
  keep: (one: Material) => Promise<void>;
  onRemove: () => Promise<void>;
}) {
  const put = (key: keyof Material, optional?: boolean) => (reading: Reading | null) =>
    reading || optional ? keep({ ...one, [key]: reading }) : undefined;
  return (
    <details className="border-b border-line py-1">
      <summary className="cursor-pointer font-medium">
        {one.name}
        <span className="text-slate font-normal text-[13px]">
          {" "}
          {one.is_mould ? "a mould" : "form material"} · {one.conductivity_w_m_k.value} W/(m·K)
          {one.thickness_m ? ` · ${(one.thickness_m.value * 1000).toFixed(0)} mm` : ""}
          {one.conductivity_w_m_k.origin === "typical" ? <span className="text-rust"> typical</span> : null}
        </span>
      </summary>
      <div className="grid grid-cols-3 gap-3 mt-2 mb-3 max-md:grid-cols-2">
        <TextField label="name" required value={one.name} onCommit={(name) => keep({ ...one, name })} />
        <Choice
          label="counts as"
          value={one.like}
          options={WALLS.filter(([value]) => value !== "other")}
          onChange={(like) => keep({ ...one, like: like as Material["like"] })}
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
        <Check checked={one.is_mould ?? false} onChange={(is_mould) => keep({ ...one, is_mould })}>
          a mould that is used again
        </Check>
        <TextField label="note" value={one.note ?? ""} onCommit={(note) => keep({ ...one, note })} />
        <button className="quiet text-left" onClick={() => void onRemove()}>
          Take it off the shelf
        </button>
      </div>
    </details>
  );
}
