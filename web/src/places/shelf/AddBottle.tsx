/** A kit brought home (a bottle of each part), or a single bottle. */
import { addBottle, addKit } from "../../api/operations.generated";
import { useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { useEverythingAnew } from "../../api/queries";
import { text } from "../../domain/format";
import { useUnits } from "../../ui/session";
import { readQuantity, readingOf } from "../../ui/readQuantity";
import { Choice } from "./sheet-parts";

export function AddBottle({
  sheets,
  colourants,
}: {
  sheets: Schemas["Sheet"][];
  colourants: Schemas["Colourant"][];
}) {
  const anew = useEverythingAnew();
  const { units } = useUnits();
  const withKits = sheets.filter((one) => one.system.kits?.length);
  const [system, setSystem] = useState("");
  const [kit, setKit] = useState("0");
  const [lot, setLot] = useState("");
  const [of, setOf] = useState("");
  const [full, setFull] = useState("");
  const [problem, setProblem] = useState("");
  const chosen = withKits.find((one) => one.system.id === system) ?? withKits[0];
  const acting = useRef(false);
  const act = (work: () => Promise<unknown>) => async () => {
    if (acting.current) return; // a tap that comes twice brings one
    acting.current = true;
    try {
      await work();
      setProblem("");
      setLot("");
      setFull("");
      await anew();
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      acting.current = false;
    }
  };
  const bring = act(async () => {
    if (chosen) await addKit({ system_id: chosen.system.id, kit: Number(kit), lot });
  });
  const single = act(async () => {
    const [goods, goods_id, part] = (of || `colourant/${colourants[0]?.id}/`).split("/");
    const full_kg = readingOf(await readQuantity(full, "mass", units));
    await addBottle({ bottle: { goods, goods_id, part, lot, full_kg } as Schemas["Bottle"] });
  });
  return (
    <details className="mt-5">
      <summary className="quiet">Put something on the shelf</summary>
      <div className="grid grid-cols-4 gap-3 mt-2 items-end max-sm:grid-cols-2">
        {chosen ? (
          <>
            <Choice
              label="a kit of"
              value={chosen.system.id}
              options={withKits.map((one) => [one.system.id, one.system.name])}
              onChange={setSystem}
            />
            <Choice
              label="size"
              value={kit}
              options={(chosen.system.kits ?? []).map((one, index) => [
                String(index),
                text(one.amount, one.by === "mass_kg" ? "mass" : "volume", units),
              ])}
              onChange={setKit}
            />
            <div>
              <label className="label" htmlFor="stock-lot">
                lot
              </label>
              <input
                id="stock-lot"
                className="box"
                value={lot}
                onChange={(event) => setLot(event.target.value)}
              />
            </div>
            <button className="key" onClick={() => void bring()}>
              Bring the kit home
            </button>
          </>
        ) : null}
        <Choice
          label="or a single bottle of"
          value={of}
          options={[
            ...colourants.map((one): [string, string] => [`colourant/${one.id}/`, one.name]),
            ...sheets.flatMap((one) =>
              (["A", "B"] as const).map((part): [string, string] => [
                `system/${one.system.id}/${part}`,
                `${one.system.name}, part ${part}`,
              ]),
            ),
          ]}
          onChange={setOf}
        />
        <div>
          <label className="label" htmlFor="stock-full">
            holds
          </label>
          <input
            id="stock-full"
            className="box"
            placeholder="1.14 kg"
            value={full}
            onChange={(event) => setFull(event.target.value)}
          />
        </div>
        <span className="text-[12.5px] text-slate">its lot goes in the field above</span>
        <button className="key" disabled={!full} onClick={() => void single()}>
          Add the bottle
        </button>
      </div>
      {problem ? (
        <p role="alert" className="text-rust text-[13px] mt-1">
          {problem}
        </p>
      ) : null}
    </details>
  );
}
