/** One coat: what is covered, how thick, what is there already, and what rules of thumb would make of it. */
import type { Present } from "../../api/client";
import { useState } from "react";
import type { Piece, Plan } from "../../api/queries";
import { film, like, text } from "../../domain/format";
import { withLay, withSide } from "../../domain/lays";
import { WALLS, withAt } from "../../domain/shapes";
import {
  COVERAGE_RULES,
  EDGE_FORMS,
  EDGE_WAYS,
  GRAINS,
  hasEdges,
  SPREADINGS,
  SURFACES,
  type Coat,
} from "../../domain/surfaces";
import { CoatSketch } from "../../drawing/CoatSketch";
import { Fig } from "../../ui/Fig";
import { QuantityField, TextField, type Reading } from "../../ui/QuantityField";
import { LayList } from "./LayList";
import { RuleTable } from "./RuleTable";
import { useUnits } from "../../ui/session";
import { OnTheDrawing } from "./OnTheDrawing";
import { COAT_PLACES } from "./places";
import { ChoiceField } from "./ShapeFields";
import { Shares } from "./Shares";
import { Check } from "../../ui/Check";

interface Props {
  coat: Coat;
  index: number;
  piece: Piece;
  plan: Plan;
  change: (what: string, fn: (coat: Coat) => Coat) => Promise<void>;
  remove: () => Promise<void>;
}

export function CoatEditor({ coat, index, piece, plan, change, remove }: Props) {
  const { units } = useUnits();
  const figures = plan.coats?.find((one) => one.coat_id === coat.id);
  const kind = coat.surface.kind!;
  const surface = coat.surface as unknown as Record<string, Reading | number | boolean | null>;
  const set = (what: string, part: Partial<Coat>) => change(what, (one) => ({ ...one, ...part }));
  const place = `/coats/${index}`;
  const [asked, setChosen] = useState("");
  const chosen = coat.lays.some((one) => one.id === asked) ? asked : coat.lays.at(-1)!.id;
  return (
    <div className="mt-2 grid gap-x-8 gap-y-3 grid-cols-[minmax(0,1.7fr)_minmax(250px,1fr)] max-xl:grid-cols-1">
      <div className="grid gap-2.5 content-start">
        <OnTheDrawing
          places={COAT_PLACES[kind]}
          fields={SURFACES[kind].fields}
          drawing={(wrong) => <CoatSketch large wrong={wrong} surface={coat.surface} />}
          field={(field, onWrong) => (
            <QuantityField
              key={field.key}
              label={field.label}
              kind={field.kind}
              optional={field.optional}
              onWrong={onWrong}
              reading={surface[field.key] as Reading | null}
              pointer={`${place}/surface/${field.key}`}
              onCommit={(reading) =>
                change(field.label, (one) => ({ ...one, surface: withAt(one.surface, field.key, reading) }))
              }
            />
          )}
        />
        <LayList
          coat={coat}
          index={index}
          piece={piece}
          plan={plan}
          change={change}
          chosen={chosen}
          choose={setChosen}
        />
        {figures ? (
          <p className="text-[13px] text-slate">
            faces{" "}
            <Fig
              figure={figures.faces}
              plan={plan}
              as={like(figures.faces.value, figures.area.value, "area", units)}
            />
            {figures.edges ? (
              <>
                , edges{" "}
                <Fig
                  figure={figures.edges}
                  plan={plan}
                  as={like(figures.edges.value, figures.area.value, "area", units)}
                />
                , in all <Fig figure={figures.area} plan={plan} />
              </>
            ) : null}
            {figures.boxed ? (
              <>
                ; the rectangle round it is{" "}
                <Fig
                  figure={figures.boxed}
                  plan={plan}
                  as={like(figures.boxed.value, figures.area.value, "area", units)}
                />
                {", "}
                {Math.round((figures.boxed.value / (figures.faces.value / (coat.faces ?? 1)) - 1) * 100)} %
                more
              </>
            ) : null}
          </p>
        ) : null}
        {figures ? <Shares shares={figures.shares ?? []} band={figures.band ?? null} plan={plan} /> : null}
        <div className="grid gap-2.5 grid-cols-[repeat(auto-fill,minmax(150px,1fr))] border-t border-line pt-2">
          {hasEdges(kind) ? <EdgeFields coat={coat} place={place} set={set} /> : null}
          {kind === "mesh" ? (
            <ChoiceField
              choice={{
                key: "part",
                label: "part",
                options: [
                  ["all of it", "all of it"],
                  ["what looks upward", "what looks upward"],
                ],
              }}
              value={String((coat.surface as { part?: string }).part ?? "all of it")}
              onChoose={(part) =>
                void change("part of the mesh", (one) => ({
                  ...one,
                  surface: withAt(one.surface, "part", part),
                }))
              }
            />
          ) : null}
          {SURFACES[kind].choices?.map((choice) => (
            <ChoiceField
              key={choice.key}
              choice={choice}
              value={String(surface[choice.key] ?? choice.options[0]![0])}
              onChoose={(value) =>
                void change(choice.label, (one) => ({
                  ...one,
                  surface: withAt(one.surface, choice.key, Number(value)),
                }))
              }
            />
          ))}
          {kind === "cup" ? (
            <Check
              checked={surface.with_base !== false}
              onChange={(on) =>
                change("base", (one) => ({ ...one, surface: withAt(one.surface, "with_base", on) }))
              }
            >
              the base too
            </Check>
          ) : null}
          <ChoiceField
            choice={{
              key: "faces",
              label: "faces",
              options: [
                ["1", "one"],
                ["2", "both, turned over"],
              ],
            }}
            value={String(coat.faces ?? 1)}
            onChoose={(faces) => void set("faces", { faces: Number(faces) as 1 | 2 })}
          />
          <ChoiceField
            choice={{ key: "ground", label: "on", options: WALLS.map((wall) => [wall, wall]) }}
            value={coat.wall ?? "wood"}
            onChoose={(wall) => void set("ground", { wall: wall as Present<Coat["wall"]> })}
          />
          <ChoiceField
            choice={{ key: "grain", label: "grain", options: GRAINS }}
            value={coat.grain ?? "open"}
            onChoose={(grain) => void set("grain", { grain: grain as Present<Coat["grain"]> })}
          />
          <QuantityField
            label="there already"
            kind="length"
            optional
            reading={coat.existing_m}
            pointer={`${place}/existing_m`}
            onCommit={(existing_m) => set("existing coat", { existing_m })}
          />
          <QuantityField
            label="soaks in"
            kind="areal_volume"
            optional
            reading={coat.soak_m3_m2}
            pointer={`${place}/soak_m3_m2`}
            help="0 when sealed"
            onCommit={(soak_m3_m2) => set("soak", { soak_m3_m2 })}
          />
          <ChoiceField
            choice={{ key: "laid-with", label: "laid with", options: SPREADINGS }}
            value={coat.laid_with ?? "not said"}
            onChoose={(laid_with) =>
              void change("what it is laid with", (one) => ({
                ...one,
                laid_with: laid_with as Present<Coat["laid_with"]>,
                notch: laid_with === "notched spreader" ? (one.notch ?? NOTCHES) : null,
              }))
            }
          />
          <QuantityField
            label="drips from the edges"
            kind="fraction"
            optional
            origin="chosen"
            reading={coat.run_off}
            pointer={`${place}/run_off`}
            onCommit={(run_off) => set("drips", { run_off })}
          />
        </div>
        {coat.notch ? (
          <Spreader coat={coat} index={index} change={change} figure={figures?.notch ?? null} plan={plan} />
        ) : null}
        <Soaks coat={coat} index={index} change={change} />
      </div>
      <div className="grid gap-2.5 content-start">
        <div className="grid grid-cols-2 gap-2.5">
          <TextField
            label="name"
            required
            value={coat.name}
            onCommit={(name) => set("renamed a coat", { name })}
          />
          <QuantityField
            label="how many alike"
            kind="count"
            reading={{ value: coat.count ?? 1, as_typed: String(coat.count ?? 1) }}
            pointer={`${place}/count`}
            onCommit={(reading) => (reading ? set("number of coats", { count: reading.value }) : undefined)}
          />
        </div>
        {figures ? (
          <section>
            <h2>What rules of thumb would lay</h2>
            <ChoiceField
              choice={{
                key: "rule",
                label: "your own rule",
                options: COVERAGE_RULES.map((rule) => [rule, rule || "none, by the film"]),
              }}
              value={coat.favourite_rule ?? ""}
              onChoose={(favourite_rule) => void set("rule of thumb", { favourite_rule })}
            />
            <RuleTable
              figures={figures}
              plan={plan}
              own={coat.favourite_rule}
              takenFor={nameOfLay(coat, chosen)}
              onTake={(typed, isFilm, rule) =>
                void change(`${rule} for ${nameOfLay(coat, chosen)}`, (one) =>
                  withLay(one, chosen, (lay) => withSide(lay, isFilm ? "film" : "rule", typed)),
                )
              }
            />
            <Flow figures={figures} piece={piece} plan={plan} />
          </section>
        ) : null}
        <p className="text-[12px] text-slate">
          All film thicknesses are wet: {text(0.025, "fraction", units)} or so is lost as it cures.
        </p>
        <p>
          <button className="quiet" onClick={() => void remove()}>
            Remove this surface
          </button>{" "}
          <span className="text-[12px] text-slate">(undo brings it back)</span>
        </p>
      </div>
    </div>
  );
}

/** Which coat a rule is taken for, in words. */
function nameOfLay(coat: Coat, id: string): string {
  const at = coat.lays.findIndex((one) => one.id === id);
  const before = coat.lays.slice(0, at).reduce((sum, one) => sum + (one.times ?? 1), 0);
  return `coat ${before + 1}`;
}

/** What the resin does at the edge, and how that is cut. */
function EdgeFields({
  coat,
  place,
  set,
}: {
  coat: Coat;
  place: string;
  set: (what: string, part: Partial<Coat>) => Promise<void>;
}) {
  const edges = coat.edges ?? "all";
  return (
    <>
      <ChoiceField
        choice={{
          key: "edges",
          label: "edges",
          options: [
            ["all", "coated too"],
            ["none", "left bare"],
          ],
        }}
        value={edges}
        onChoose={(next) =>
          void set("edges", { edges: next as Present<Coat["edges"]>, edge_way: "not said" })
        }
      />
      <ChoiceField
        choice={{ key: "edge-way", label: "at the edge", options: EDGE_WAYS[edges] }}
        value={coat.edge_way ?? "not said"}
        onChoose={(edge_way) => void set("edge", { edge_way: edge_way as Present<Coat["edge_way"]> })}
      />
      {edges === "all" ? (
        <ChoiceField
          choice={{ key: "edge-form", label: "edge cut", options: EDGE_FORMS }}
          value={coat.edge_form ?? "square"}
          onChoose={(edge_form) =>
            void set("edge cut", {
              edge_form: edge_form as Present<Coat["edge_form"]>,
              bevel_m: edge_form === "bevelled" ? (coat.bevel_m ?? BEVEL) : null,
            })
          }
        />
      ) : null}
      {edges === "all" && coat.edge_form === "bevelled" ? (
        <QuantityField
          label="bevel, measured square to the edge"
          kind="length"
          reading={coat.bevel_m}
          pointer={`${place}/bevel_m`}
          onCommit={(bevel_m) => (bevel_m ? set("bevel", { bevel_m }) : undefined)}
        />
      ) : null}
    </>
  );
}

/** How the film moves until it gels. */
function Flow({
  figures,
  piece,
  plan,
}: {
  figures: NonNullable<Plan["coats"]>[number];
  piece: Piece;
  plan: Plan;
}) {
  if (!figures.creep)
    return (
      <p className="text-[12px] text-slate mt-1">
        How it creeps and what an edge keeps is said once a system with a viscosity is chosen.
      </p>
    );
  return (
    <p className="text-[13px] mt-1">
      {piece.level ? "As it stands" : "At a tilt of 1°"} the thickest coat creeps{" "}
      <Fig figure={figures.creep} plan={plan} />
      {figures.creeps ? (
        <>
          , <Fig figure={figures.creeps} plan={plan} /> until it gels; a strip of{" "}
          <Fig figure={figures.thin} plan={plan} /> at the high side stays thin
        </>
      ) : null}
      {figures.edge_film ? (
        <>
          ; an upright edge keeps <Fig figure={figures.edge_film} plan={plan} />
        </>
      ) : null}
      {figures.edge_holds ? (
        <>
          ; a sharp edge holds <Fig figure={figures.edge_holds} plan={plan} />
        </>
      ) : null}
      .
    </p>
  );
}

/** Parts of the area that drink otherwise than the rest. */
function Soaks({ coat, index, change }: Pick<Props, "coat" | "index" | "change">) {
  const soaks = coat.soaks ?? [];
  const set = (what: string, fn: (soaks: NonNullable<Coat["soaks"]>) => NonNullable<Coat["soaks"]>) =>
    change(what, (one) => ({ ...one, soaks: fn(one.soaks ?? []) }));
  const put = (at: number, part: Partial<(typeof soaks)[number]>) =>
    set("a part that drinks otherwise", (all) => all.map((one, i) => (i === at ? { ...one, ...part } : one)));
  return (
    <details open={soaks.length > 0 || undefined}>
      <summary className="quiet">Parts that drink otherwise, like sapwood</summary>
      {soaks.map((soak, at) => (
        <div key={at} className="grid grid-cols-[1fr_1fr_1fr_auto] gap-2 items-end mt-1 max-sm:grid-cols-1">
          <TextField label="part" value={soak.name ?? ""} onCommit={(name) => put(at, { name })} />
          <QuantityField
            label={`area of part ${at + 1}`}
            kind="area"
            reading={soak.area_m2}
            pointer={`/coats/${index}/soaks/${at}/area_m2`}
            onCommit={(area_m2) => (area_m2 ? put(at, { area_m2 }) : undefined)}
          />
          <QuantityField
            label={`soaks into part ${at + 1}`}
            kind="areal_volume"
            reading={soak.soak_m3_m2}
            pointer={`/coats/${index}/soaks/${at}/soak_m3_m2`}
            onCommit={(soak_m3_m2) => (soak_m3_m2 ? put(at, { soak_m3_m2 }) : undefined)}
          />
          <button
            className="quiet pb-2"
            aria-label={`Take part ${at + 1} out`}
            onClick={() => void set("one part less", (all) => all.filter((_, i) => i !== at))}
          >
            take out
          </button>
        </div>
      ))}
      <button
        className="quiet"
        onClick={() => void set("a part that drinks otherwise", (all) => [...all, SAPWOOD])}
      >
        Add a part
      </button>
    </details>
  );
}

const TYPICAL = "typical" as const; // until it is measured
const BEVEL = { value: 0.003, as_typed: "3 mm", origin: TYPICAL };
const NOTCHES = {
  form: "square" as const,
  depth_m: { value: 0.003, as_typed: "3 mm", origin: TYPICAL },
  width_m: { value: 0.003, as_typed: "3 mm", origin: TYPICAL },
  pitch_m: { value: 0.006, as_typed: "6 mm", origin: TYPICAL },
};
const SAPWOOD = {
  name: "sapwood",
  area_m2: { value: 0.01, as_typed: "0.01 m2", origin: TYPICAL },
  soak_m3_m2: { value: 150e-6, as_typed: "150 mL/m2", origin: TYPICAL },
};
const NOTCH = [
  ["depth_m", "notch depth"],
  ["width_m", "notch width"],
  ["pitch_m", "one every"],
] as const;

function Spreader({
  coat,
  index,
  change,
  figure,
  plan,
}: {
  coat: Coat;
  index: number;
  change: Props["change"];
  figure: NonNullable<Plan["coats"]>[number]["notch"] | null;
  plan: Plan;
}) {
  const notch = coat.notch;
  if (!notch) return null;
  return (
    <fieldset className="border-t border-line pt-2">
      <legend className="float-left w-full text-[13px] font-semibold">
        Notched spreader
        {figure ? (
          <>
            , lays {film(figure.value)} (<Fig figure={figure} plan={plan} />)
          </>
        ) : (
          ""
        )}
      </legend>
      <div className="clear-both grid grid-cols-2 gap-2">
        <ChoiceField
          choice={{
            key: "notch-form",
            label: "notches",
            options: [
              ["square", "square"],
              ["v", "V"],
            ],
          }}
          value={notch.form ?? "square"}
          onChoose={(form) =>
            void change("notch", (one) => ({
              ...one,
              notch: { ...one.notch!, form: form as "square" | "v" },
            }))
          }
        />
        {NOTCH.map(([key, label]) => (
          <QuantityField
            key={key}
            label={label}
            kind="length"
            reading={notch[key]}
            pointer={`/coats/${index}/notch/${key}`}
            onCommit={(reading) =>
              reading
                ? change(label, (one) => ({ ...one, notch: { ...one.notch!, [key]: reading } }))
                : undefined
            }
          />
        ))}
      </div>
    </fieldset>
  );
}
