/** The resin systems: a sheet in the order sheets are printed, each value with its origin, doubts
 *  explained, a change making a new version. */
import {
  addSystem,
  confirmSystem,
  readClasses,
  readVersions,
  retireSystem,
} from "../../api/operations.generated";
import { useChangeSystem } from "../../api/changes";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { useQuery } from "@tanstack/react-query";
import { type Schemas, type Present } from "../../api/client";
import { useEverythingAnew, useShelf } from "../../api/queries";
import { text } from "../../domain/format";
import { freshId } from "../../domain/shapes";
import { SECTIONS, type FieldRow, type System } from "../../domain/system-fields";
import { Check } from "../../ui/Check";
import { QuantityField, TextField, type Reading } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { Empty, Waiting } from "../../ui/states";
import { Verdicts } from "../../ui/Verdicts";
import { AnyAmount } from "../../stages/mix/AnyAmount";
import { Kits } from "./Kits";
import { Choice, Compared, Section, type PartProps } from "./sheet-parts";
import { WorkingTimes } from "./WorkingTimes";

type Sheet = Schemas["Sheet"];

const CLASSES: [NonNullable<System["cures_like"]>, string][] = [
  ["thin-sealing-epoxy", "thin sealing epoxy"],
  ["coating-epoxy", "coating epoxy"],
  ["craft-casting-epoxy", "craft casting epoxy"],
  ["casting-epoxy-25", "casting epoxy, 25 mm"],
  ["slow-casting-epoxy", "slow casting epoxy"],
  ["fast-casting-polyurethane", "fast casting polyurethane"],
];

export function SystemShelf() {
  const shelf = useShelf();
  const { systemId } = useParams();
  // Somebody came from a piece for a system: one more goes back to it.
  const forPiece = useSearchParams()[0].get("for");
  const navigate = useNavigate();
  const [adding, setAdding] = useState(!!forPiece);
  if (shelf.isPending || !shelf.data) return <Waiting error={shelf.error} what="the shelf" />;
  const sheets = shelf.data;
  const open = sheets.find((sheet) => sheet.system.id === systemId) ?? sheets[0];
  return (
    <div className="grid grid-cols-[300px_minmax(0,1fr)] max-lg:block">
      <nav
        aria-label="Resin systems"
        className="px-7 py-3 border-r border-line max-sm:px-3 max-lg:border-r-0"
      >
        <ul className="rule">
          {sheets.map((sheet) => (
            <li key={sheet.system.id}>
              <Link
                to={`/shelf/${sheet.system.id}`}
                aria-current={sheet === open ? "page" : undefined}
                className={`block py-2 pl-2 ${sheet === open ? "border-l-4 border-spruce font-semibold" : "border-l-4 border-transparent"}`}
              >
                {sheet.system.name}
                <span className="block text-[12.5px] text-slate font-normal">
                  {sheet.typical.length ? `${sheet.typical.length} typical values` : "all confirmed"}
                  {sheet.verdicts.length
                    ? ` · ${sheet.verdicts.length} ${sheet.verdicts.length === 1 ? "doubt" : "doubts"}`
                    : ""}
                </span>
              </Link>
            </li>
          ))}
        </ul>
        {adding ? (
          <AddSystem
            taken={sheets.map((sheet) => sheet.system.id)}
            onCancel={() => (forPiece ? navigate(`/pieces/${forPiece}/resin`) : setAdding(false))}
            onDone={(id) => {
              setAdding(false);
              navigate(forPiece ? `/pieces/${forPiece}/resin` : `/shelf/${id}`);
            }}
          />
        ) : (
          <button className="key mt-4" onClick={() => setAdding(true)}>
            Add a system
          </button>
        )}
      </nav>
      {open ? (
        <SheetView key={open.system.id} sheet={open} />
      ) : (
        <Empty title="Nothing on the shelf">
          Add a system from a typical class, then put in the values of your own data sheet.
        </Empty>
      )}
    </div>
  );
}

function SheetView({ sheet }: { sheet: Sheet }) {
  const { system } = sheet;
  const { units } = useUnits();
  const anew = useEverythingAnew();
  const navigate = useNavigate();
  const change = useChangeSystem(system);
  const put = (key: keyof System, optional?: boolean) => (reading: Reading | null) =>
    reading || optional
      ? change({ [key]: reading ? { ...reading, origin: "sheet" } : null } as Partial<System>)
      : undefined;
  const quantity = ([key, label, kind, optional]: FieldRow) => (
    <Compared key={key} reading={system[key] as Reading | null} onSame={put(key)}>
      <QuantityField
        label={label}
        kind={kind}
        optional={optional}
        origin="sheet"
        reading={system[key] as Reading | null}
        pointer={`/${key}`}
        onCommit={put(key, optional)}
      />
    </Compared>
  );
  return (
    <section className="px-7 py-3 max-w-[820px] max-sm:px-3" aria-label={system.name}>
      <h2 className="text-[25px]">{system.name}</h2>
      <VersionLine system={system} />
      {system.read_from?.length ? (
        <p className="text-[13px]">
          <Link className="quiet" to={`/shelf/read/${system.read_from[0]!.file}`}>
            The sheet it was read from
          </Link>{" "}
          ({system.read_from.length} values taken)
        </p>
      ) : null}
      {sheet.typical.length ? (
        <div className="mt-3 border-l-4 border-straw pl-3">
          <p>
            {sheet.typical.length} values are typical of the class, nobody's product. Go down your data sheet:
            type what it says, or tap "same on mine".
          </p>
          <button
            className="quiet"
            onClick={async () => {
              await confirmSystem(system.id, { made_on: system.version ?? 1 });
              await anew();
            }}
          >
            They all match my data sheet
          </button>
        </div>
      ) : null}
      <Verdicts verdicts={sheet.verdicts} title="Doubts about this sheet" />
      <AnyAmount systemId={system.id} />
      <h3 className="font-semibold mt-4 border-b border-ink">Ratio</h3>
      <div className="mt-2 grid grid-cols-3 gap-3 max-md:grid-cols-2">
        <TextField label="name" required value={system.name} onCommit={(name) => change({ name })} />
        <Choice
          label="ratio is by"
          value={system.basis ?? ""}
          options={[
            ["", "not said: stops the job"],
            ["volume", "volume"],
            ["weight", "weight"],
          ]}
          onChange={(basis) => change({ basis: (basis || null) as Present<System["basis"]> })}
        />
        {quantity(["ratio", "ratio A : B", "ratio"])}
        {quantity([
          "ratio_other",
          `ratio by ${system.basis === "weight" ? "volume" : "weight"}, if stated`,
          "ratio",
          true,
        ])}
        <Choice
          label="first into the cup"
          value={system.first_part ?? ""}
          options={[
            ["", "not said: as the workshop does"],
            ["A", "part A"],
            ["B", "part B"],
          ]}
          onChange={(first) => change({ first_part: (first || null) as Present<System["first_part"]> })}
        />
        <Check
          checked={system.is_filled ?? false}
          onChange={(is_filled) => change({ is_filled })}
          className="items-center self-end"
        >
          a part is filled, so it may be heavier
        </Check>
      </div>
      <Section title={SECTIONS[0]![0]}>
        {(["name_a", "name_b"] as const).map((key) => (
          <TextField
            key={key}
            label={`part ${key === "name_a" ? "A" : "B"} is called`}
            value={system[key] ?? ""}
            onCommit={(name) => change({ [key]: name || null })}
          />
        ))}
        <span />
        {SECTIONS[0]![1].map(quantity)}
      </Section>
      <WorkingTimes system={system} rows={sheet.rows} change={change} />
      <DepthRules system={system} change={change} />
      {SECTIONS.slice(1).map(([title, rows]) => (
        <Section key={title} title={title}>
          {rows.map(quantity)}
          {title === "Times at a second temperature" ? (
            <p className="col-span-full text-[13px] text-slate">
              Where it says how long it takes in a colder or a warmer room too: then such a room is worked out
              from this sheet, and not from its class.
            </p>
          ) : null}
          {title === "Room and pouring" ? (
            <Check
              checked={system.needs_pressure ?? false}
              onChange={(needs_pressure) => change({ needs_pressure })}
              className="items-center self-end"
            >
              needs a pressure chamber
            </Check>
          ) : null}
        </Section>
      ))}
      <Section title="Heat and cure">
        <Choice
          label="cures like the class"
          value={system.cures_like ?? ""}
          options={[["", "not said: heat is not computed"], ...CLASSES]}
          onChange={(like) => change({ cures_like: (like || null) as Present<System["cures_like"]> })}
        />
        <p className="col-span-2 self-end text-[13px]">
          {system.cure_fit ? (
            <>
              Refitted to a measured curve ({system.cure_fit.note}): it cures ×{" "}
              {system.cure_fit.rate_factor.toFixed(2)} as fast as its class
              {(system.cure_fit.heat_factor ?? 1) === 1
                ? null
                : ` and makes × ${system.cure_fit.heat_factor!.toFixed(2)} the heat`}
              ; off by {text(system.cure_fit.before_k, "temperature_difference", units)} before,{" "}
              {text(system.cure_fit.after_k, "temperature_difference", units)} after.{" "}
              <button className="quiet" onClick={() => void change({ cure_fit: null })}>
                Do not use this
              </button>
            </>
          ) : (
            <span className="text-slate">
              A measured curve, laid over a layer's prediction, refits its speed.
            </span>
          )}
        </p>
      </Section>
      <Hazards system={system} change={change} />
      <Kits system={system} change={change} />
      <p className="mt-6">
        <button
          className="quiet"
          onClick={async () => {
            if (window.confirm(`Take ${system.name} off the shelf? Its versions stay for old plans.`)) {
              await retireSystem(system.id);
              await anew();
              navigate("/shelf");
            }
          }}
        >
          Take it off the shelf
        </button>
      </p>
    </section>
  );
}

function DepthRules({ system, change }: PartProps) {
  const rules = system.depth_rules;
  const swap = (index: number, part: Partial<(typeof rules)[number]>) =>
    change({ depth_rules: rules.map((one, at) => (at === index ? { ...one, ...part } : one)) });
  return (
    <>
      <h3 className="font-semibold mt-5 border-b border-ink">Depth of a layer</h3>
      <div className="grid gap-2 mt-2">
        {rules.map((rule, index) => (
          <div key={index} className="grid grid-cols-[1fr_1fr_auto] gap-3 items-start max-w-[560px]">
            <Compared
              reading={rule.most_depth_m}
              onSame={(most_depth_m) => swap(index, { most_depth_m: most_depth_m })}
            >
              <QuantityField
                label="layer to"
                kind="length"
                origin="sheet"
                reading={rule.most_depth_m}
                onCommit={(most_depth_m) =>
                  most_depth_m ? swap(index, { most_depth_m: most_depth_m }) : undefined
                }
              />
            </Compared>
            <Compared
              reading={rule.up_to_kg as Reading | null}
              onSame={(up_to_kg) => swap(index, { up_to_kg: up_to_kg as Present<typeof rule.up_to_kg> })}
            >
              <QuantityField
                label="up to a mass of"
                optional
                kind="mass"
                origin="sheet"
                help="empty: any mass"
                reading={rule.up_to_kg}
                onCommit={(up_to_kg) => swap(index, { up_to_kg: up_to_kg })}
              />
            </Compared>
            {rules.length > 1 ? (
              <button
                className="quiet mt-5"
                onClick={() => void change({ depth_rules: rules.filter((_, at) => at !== index) })}
              >
                remove
              </button>
            ) : (
              <span />
            )}
          </div>
        ))}
        <div className="grid grid-cols-[1fr_1fr_auto] gap-3 max-w-[560px]">
          <QuantityField
            label="least layer"
            kind="length"
            optional
            origin="sheet"
            reading={system.least_depth_m as Reading | null}
            pointer="/least_depth_m"
            onCommit={(least) => change({ least_depth_m: least })}
          />
        </div>
        <button
          className="quiet text-left"
          onClick={() =>
            void change({
              depth_rules: [
                ...rules,
                {
                  most_depth_m: { value: 0.01, as_typed: "10 mm", origin: "typical" },
                  up_to_kg: { value: 0.5, as_typed: "500 g", origin: "typical" },
                },
              ],
            })
          }
        >
          Add a rule
        </button>
      </div>
    </>
  );
}

/** The hazard statements that its plans say among their cautions. */
function Hazards({ system, change }: PartProps) {
  return (
    <Section title="Cautions of its safety data sheet">
      {system.hazards?.length ? (
        <p className="col-span-full">
          {system.hazards.join(", ")}: said in every plan with it.{" "}
          <button className="quiet" onClick={() => void change({ hazards: null })}>
            Take them out
          </button>
        </p>
      ) : (
        <p className="col-span-full text-[13px] text-slate">
          None taken yet.{" "}
          <Link className="quiet" to="/shelf/read">
            Drop its safety data sheet
          </Link>
          : its hazard statements can be said in every plan with this resin.
        </p>
      )}
    </Section>
  );
}

function VersionLine({ system }: { system: System }) {
  const versions = useQuery({
    queryKey: ["versions", system.id, system.version],
    queryFn: () => readVersions(system.id),
  });
  const { units } = useUnits();
  const older = (versions.data?.versions ?? []).slice(1, 8);
  return (
    <details className="text-slate text-[13px]">
      <summary className="cursor-pointer">
        version {system.version}; every change makes a new version, older plans keep theirs
      </summary>
      {older.length ? (
        <ul>
          {older.map((one) => (
            <li key={one.version}>
              version {one.version}: {one.ratio.as_typed ?? one.ratio.value}{" "}
              {one.basis ? `by ${one.basis}` : "no basis"}, working time{" "}
              {text(one.working_time.time_s.value, "duration", units)}, layer to{" "}
              {text(Math.max(...one.depth_rules.map((rule) => rule.most_depth_m.value)), "length", units)},{" "}
              {one.name}
            </li>
          ))}
        </ul>
      ) : (
        <p>There is no older one.</p>
      )}
    </details>
  );
}

interface AddProps {
  taken: string[];
  onDone: (id: string) => void;
  onCancel: () => void;
}

function AddSystem({ taken, onDone, onCancel }: AddProps) {
  const classes = useQuery({
    queryKey: ["classes"],
    queryFn: () => readClasses(),
  });
  const anew = useEverythingAnew();
  const [name, setName] = useState("");
  const [from, setFrom] = useState("");
  const [problem, setProblem] = useState("");
  const add = async () => {
    const start = classes.data?.sheets.find((sheet) => sheet.system.id === from) ?? classes.data?.sheets[0];
    if (!start) return;
    try {
      const id = freshId("system", taken);
      await addSystem({
        ...start.system,
        id,
        name: name.trim() || `${start.system.name}, mine`,
        version: 1,
      });
      await anew();
      onDone(id);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <div className="mt-4 grid gap-2" role="group" aria-label="Add a system">
      <div>
        <label className="label" htmlFor="system-name">
          what you call it
        </label>
        <input
          id="system-name"
          className="box"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </div>
      <div>
        <label className="label" htmlFor="system-class">
          start from the class
        </label>
        <select
          id="system-class"
          className="box"
          value={from}
          onChange={(event) => setFrom(event.target.value)}
        >
          {classes.data?.sheets.map((sheet) => (
            <option key={sheet.system.id} value={sheet.system.id}>
              {sheet.system.name}
            </option>
          ))}
        </select>
      </div>
      {problem ? (
        <p role="alert" className="text-rust">
          {problem}
        </p>
      ) : null}
      <div className="flex gap-4">
        <button className="key" onClick={() => void add()}>
          Put it on the shelf
        </button>
        <button className="quiet" onClick={onCancel}>
          Never mind
        </button>
      </div>
    </div>
  );
}
