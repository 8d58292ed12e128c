/** Shelf: the resin systems, each value with its origin, doubts explained, a change making a new version. */
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { useQuery } from "@tanstack/react-query";
import { call, type Schemas } from "../api/client";
import { useEverythingAnew, useShelf } from "../api/queries";
import { text } from "../domain/format";
import { freshId } from "../domain/shapes";
import { QuantityField, TextField, type Reading } from "../ui/QuantityField";
import { useUnits } from "../ui/session";
import { Empty, Waiting } from "../ui/states";
import { Verdicts } from "../ui/Verdicts";

type Sheet = Schemas["Sheet"];
type System = Schemas["System"];

// In the order sheets are printed.
const FIELDS: [keyof System, string, string][] = [
  ["ratio", "ratio A : B", "ratio"], ["density_a_kg_m3", "density of A", "density"], ["density_b_kg_m3", "density of B", "density"],
  ["least_depth_m", "least layer", "length"], ["tack_free_s", "tack-free after", "duration"], ["bond_from_s", "bond window opens", "duration"],
  ["bond_to_s", "bond window closes", "duration"], ["demould_s", "demould after", "duration"], ["full_cure_s", "full cure", "duration"],
  ["stir_s", "stir", "duration"], ["rest_s", "rest before pouring", "duration"], ["shrinkage", "shrinkage by volume", "fraction"],
  ["colourant_most", "colourant at most", "fraction"], ["room_from_c", "room from", "temperature"], ["room_to_c", "room to", "temperature"],
  ["room_humidity_most", "humidity below", "fraction"],
];
// What heat and cure are computed from; each may stay empty.
const HEAT_FIELDS: [keyof System, string, string][] = [
  ["times_depth_m", "times hold for a layer of", "length"], ["viscosity_pa_s", "viscosity of the mix, 23 °C", "viscosity"], ["heat_j_kg", "heat of reaction", "heat"],
  ["peak_wanted_c", "peak wanted at most", "temperature"], ["peak_never_c", "peak never over", "temperature"], ["pour_from_c", "pour from", "temperature"], ["pour_to_c", "pour up to", "temperature"],
];

const CLASSES: [NonNullable<System["cures_like"]>, string][] = [
  ["thin-sealing-epoxy", "thin sealing epoxy"], ["coating-epoxy", "coating epoxy"], ["craft-casting-epoxy", "craft casting epoxy"], ["casting-epoxy-25", "casting epoxy, 25 mm"],
  ["slow-casting-epoxy", "slow casting epoxy"], ["fast-casting-polyurethane", "fast casting polyurethane"],
];

export function Shelf() {
  const shelf = useShelf();
  const { systemId } = useParams();
  const [adding, setAdding] = useState(false);
  if (shelf.isPending || !shelf.data) return <Waiting error={shelf.error} what="the shelf" />;
  const sheets = shelf.data;
  const open = sheets.find((sheet) => sheet.system.id === systemId) ?? sheets[0];
  return (
    <div className="grid grid-cols-[300px_minmax(0,1fr)] max-lg:block">
      <nav aria-label="Resin systems" className="px-7 py-5 border-r border-line max-sm:px-3 max-lg:border-r-0">
        <h1 className="text-[30px]">Shelf</h1>
        <ul className="rule mt-2">
          {sheets.map((sheet) => (
            <li key={sheet.system.id}>
              <Link to={`/shelf/${sheet.system.id}`} aria-current={sheet === open ? "page" : undefined} className={`block py-2 pl-2 ${sheet === open ? "border-l-4 border-spruce font-semibold" : "border-l-4 border-transparent"}`}>
                {sheet.system.name}
                <span className="block text-[12.5px] text-slate font-normal">{sheet.typical.length ? `${sheet.typical.length} typical values` : "all confirmed"}{sheet.verdicts.length ? ` · ${sheet.verdicts.length} doubts` : ""}</span>
              </Link>
            </li>
          ))}
        </ul>
        {adding ? <AddSystem taken={sheets.map((sheet) => sheet.system.id)} onDone={() => setAdding(false)} /> : <button className="key mt-4" onClick={() => setAdding(true)}>Add a system</button>}
      </nav>
      {open ? <SheetView key={open.system.id} sheet={open} /> : <Empty title="Nothing on the shelf">Add a system from a typical class, then put in the values of your own data sheet.</Empty>}
    </div>
  );
}

function SheetView({ sheet }: { sheet: Sheet }) {
  const { system } = sheet;
  const anew = useEverythingAnew();
  const { units, currency } = useUnits();
  const navigate = useNavigate();
  const versions = useQuery({ queryKey: ["versions", system.id, system.version], queryFn: () => call<Schemas["Versions"]>("GET", `/systems/${system.id}/versions`) });
  const change = async (part: Partial<System>) => {
    await call<Sheet>("PUT", `/systems/${system.id}`, { ...system, ...part });
    await anew();
  };
  const put = (key: keyof System, optional: boolean) => (reading: Reading | null) => (reading || optional ? change({ [key]: reading ? { ...reading, origin: "sheet" } : null }) : undefined);
  const work = system.working_time;
  return (
    <section className="px-7 py-5 max-w-[760px] max-sm:px-3" aria-label={system.name}>
      <h2 className="text-[25px]">{system.name}</h2>
      <p className="text-slate text-[13px]">version {system.version}{versions.data ? ` of ${versions.data.versions.length}` : ""}; every change makes a new version, older plans keep theirs</p>
      {sheet.typical.length ? (
        <div className="mt-3 border-l-4 border-straw pl-3">
          <p>{sheet.typical.length} values are typical of the class, nobody's product. Compare them with your data sheet, correct what differs, then confirm.</p>
          <button className="quiet" onClick={async () => { await call("POST", `/systems/${system.id}/confirm`); await anew(); }}>They all match my data sheet</button>
        </div>
      ) : null}
      <div className="mt-4 grid grid-cols-3 gap-3 max-md:grid-cols-2">
        <TextField label="name" required value={system.name} onCommit={(name) => change({ name })} />
        <div>
          <label className="block text-[13px] text-slate" htmlFor="basis">ratio is by</label>
          <select id="basis" className="box" value={system.basis ?? ""} onChange={(event) => void change({ basis: (event.target.value || null) as System["basis"] })}>
            <option value="">not said: stops the job</option><option value="volume">volume</option><option value="weight">weight</option>
          </select>
        </div>
        {FIELDS.map(([key, label, kind]) => (
          <QuantityField key={key} label={label} kind={kind} optional={key === "least_depth_m"} origin="sheet" reading={system[key] as Reading | null} pointer={`/${key}`} onCommit={put(key, key === "least_depth_m")} />
        ))}
        <QuantityField label="working time" kind="duration" origin="sheet" reading={work.time_s} onCommit={(time_s) => time_s ? change({ working_time: { ...work, time_s } }) : undefined} />
        <QuantityField label="… of a batch of" kind="mass" origin="sheet" reading={work.mass_kg} onCommit={(mass_kg) => mass_kg ? change({ working_time: { ...work, mass_kg } }) : undefined} />
        <QuantityField label="… at" kind="temperature" origin="sheet" reading={work.temperature_c} onCommit={(temperature_c) => temperature_c ? change({ working_time: { ...work, temperature_c } }) : undefined} />
      </div>
      <label className="flex gap-2 items-center mt-3 text-[13px]"><input type="checkbox" checked={system.is_filled ?? false} onChange={(event) => void change({ is_filled: event.target.checked })} />a part is filled, so it may be heavier</label>
      <h2 className="mt-5">Heat and cure</h2>
      <div className="mt-1 grid grid-cols-3 gap-3 max-md:grid-cols-2">
        <div>
          <label className="block text-[13px] text-slate" htmlFor="cures-like">cures like the class</label>
          <select id="cures-like" className="box" value={system.cures_like ?? ""} onChange={(event) => void change({ cures_like: (event.target.value || null) as System["cures_like"] })}>
            <option value="">not said: heat is not computed</option>
            {CLASSES.map(([value, words]) => <option key={value} value={value}>{words}</option>)}
          </select>
        </div>
        <div>
          <label className="block text-[13px] text-slate" htmlFor="criterion">working time ends when</label>
          <select id="criterion" className="box" value={work.criterion ?? "not said"} onChange={(event) => void change({ working_time: { ...work, criterion: event.target.value as typeof work.criterion } })}>
            {["not said", "gel", "doubled viscosity", "too thick to pour", "a temperature"].map((one) => <option key={one}>{one}</option>)}
          </select>
        </div>
        {HEAT_FIELDS.map(([key, label, kind]) => <QuantityField key={key} label={label} kind={kind} optional origin="sheet" reading={system[key] as Reading | null} pointer={`/${key}`} onCommit={put(key, true)} />)}
      </div>
      {system.cure_fit ? (
        <p className="mt-2 text-[13px]">Refitted to a measured curve ({system.cure_fit.note}): it cures × {system.cure_fit.rate_factor.toFixed(2)} as fast as its class; off by {system.cure_fit.before_k.toFixed(1)} °C before, {system.cure_fit.after_k.toFixed(1)} °C after. <button className="quiet" onClick={() => void change({ cure_fit: null })}>Set it aside</button></p>
      ) : <p className="mt-1 text-[12.5px] text-slate">A measured curve, laid over a layer's prediction, refits these.</p>}
      <h2 className="mt-5">Depth rules</h2>
      <div className="grid gap-2 mt-1">
        {system.depth_rules.map((rule, index) => (
          <div key={index} className="grid grid-cols-[1fr_1fr_auto] gap-3 items-start max-w-[520px]">
            <QuantityField label="layer to" kind="length" origin="sheet" reading={rule.most_depth_m} onCommit={(most_depth_m) => most_depth_m ? change({ depth_rules: system.depth_rules.map((one, at) => (at === index ? { ...one, most_depth_m } : one)) }) : undefined} />
            <QuantityField label="up to a mass of" optional kind="mass" origin="sheet" help="empty: any mass" reading={rule.up_to_kg} onCommit={(up_to_kg) => change({ depth_rules: system.depth_rules.map((one, at) => (at === index ? { ...one, up_to_kg } : one)) })} />
            {system.depth_rules.length > 1 ? <button className="quiet mt-5" onClick={() => void change({ depth_rules: system.depth_rules.filter((_, at) => at !== index) })}>remove</button> : <span />}
          </div>
        ))}
        <button className="quiet text-left" onClick={() => void change({ depth_rules: [...system.depth_rules, { most_depth_m: { value: 0.01, as_typed: "10 mm", origin: "typical" }, up_to_kg: { value: 0.5, as_typed: "500 g", origin: "typical" } }] })}>Add a rule</button>
      </div>
      {system.kits?.length ? (
        <section className="mt-5">
          <h2>Sold in</h2>
          <p className="mt-1">{system.kits.map((kit) => `${text(kit.amount, kit.by === "mass_kg" ? "mass" : "volume", units)} ${text(kit.price_minor, "money", units, currency)}`).join(" · ")}{system.kits.some((kit) => kit.origin === "typical") ? <span className="text-rust text-[13px]"> typical, made up</span> : null}</p>
        </section>
      ) : null}
      <Verdicts verdicts={sheet.verdicts} title="Doubts about this sheet" />
      <p className="mt-6"><button className="quiet" onClick={async () => { if (window.confirm(`Take ${system.name} off the shelf? Its versions stay for old plans.`)) { await call("DELETE", `/systems/${system.id}`); await anew(); navigate("/shelf"); } }}>Take it off the shelf</button></p>
    </section>
  );
}

function AddSystem({ taken, onDone }: { taken: string[]; onDone: () => void }) {
  const classes = useQuery({ queryKey: ["classes"], queryFn: () => call<Schemas["Shelf"]>("GET", "/systems/classes") });
  const anew = useEverythingAnew();
  const navigate = useNavigate();
  const [name, setName] = useState("");
  const [from, setFrom] = useState("");
  const [problem, setProblem] = useState("");
  const add = async () => {
    const start = classes.data?.sheets.find((sheet) => sheet.system.id === from) ?? classes.data?.sheets[0];
    if (!start) return;
    try {
      const id = freshId("system", taken);
      await call("POST", "/systems", { ...start.system, id, name: name.trim() || `${start.system.name}, mine`, version: 1 });
      await anew();
      onDone();
      navigate(`/shelf/${id}`);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <div className="mt-4 grid gap-2" role="group" aria-label="Add a system">
      <div><label className="block text-[13px] text-slate" htmlFor="system-name">what you call it</label><input id="system-name" className="box" value={name} onChange={(event) => setName(event.target.value)} /></div>
      <div><label className="block text-[13px] text-slate" htmlFor="system-class">start from the class</label><select id="system-class" className="box" value={from} onChange={(event) => setFrom(event.target.value)}>{classes.data?.sheets.map((sheet) => <option key={sheet.system.id} value={sheet.system.id}>{sheet.system.name}</option>)}</select></div>
      {problem ? <p role="alert" className="text-rust">{problem}</p> : null}
      <div className="flex gap-4"><button className="key" onClick={() => void add()}>Put it on the shelf</button><button className="quiet" onClick={onDone}>Never mind</button></div>
    </div>
  );
}
