/** One coat: what is covered, how thick, what is there already, and what rules of thumb would make of it. */
import type { Present } from "../../api/client";
import { useShelf, type Piece, type Plan } from "../../api/queries";
import { film, like, text } from "../../domain/format";
import { freshId, WALLS, withAt } from "../../domain/shapes";
import type { Seldom } from "../../domain/work";
import { COVERAGE_RULES, GRAINS, SURFACES, type Coat } from "../../domain/surfaces";
import { CoatSketch } from "../../drawing/CoatSketch";
import { Fig } from "../../ui/Fig";
import { QuantityField, TextField, type Reading } from "../../ui/QuantityField";
import { RecipeField } from "./RecipeField";
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
  /** what this kind of work hardly needs */
  seldom: ReadonlySet<Seldom>;
  change: (what: string, fn: (coat: Coat) => Coat) => Promise<void>;
  remove: () => Promise<void>;
}

export function CoatEditor({ coat, index, piece, plan, seldom, change, remove }: Props) {
  const { units } = useUnits();
  const figures = plan.coats?.find((one) => one.coat_id === coat.id);
  const kind = coat.surface.kind!;
  const surface = coat.surface as unknown as Record<string, Reading | number | boolean | null>;
  const set = (what: string, part: Partial<Coat>) => change(what, (one) => ({ ...one, ...part }));
  const place = `/coats/${index}`;
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
        >
          <QuantityField
            label="film wanted in all"
            kind="length"
            origin="chosen"
            reading={coat.film_m}
            pointer={`${place}/film_m`}
            help={film(coat.film_m.value)}
            onCommit={(reading) => (reading ? set("film", { film_m: reading }) : undefined)}
          />
          {kind === "area" || kind === "cup" ? null : (
            <ChoiceField
              choice={{
                key: "edges",
                label: "edges",
                options: [
                  ["all", "coated too"],
                  ["none", "left bare"],
                ],
              }}
              value={coat.edges ?? "all"}
              onChoose={(edges) => void set("edges", { edges: edges as Present<Coat["edges"]> })}
            />
          )}
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
          <QuantityField
            label="drips from the edges"
            kind="fraction"
            optional
            origin="chosen"
            reading={coat.run_off}
            pointer={`${place}/run_off`}
            onCommit={(run_off) => set("drips", { run_off })}
          />
        </OnTheDrawing>
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
          </p>
        ) : null}
        {figures ? <Shares shares={figures.shares ?? []} band={figures.band ?? null} plan={plan} /> : null}
        <FilmPortions coat={coat} index={index} change={change} standard={piece.system_id ?? null} />
        {seldom.has("spreader") && !coat.notch ? (
          <details>
            <summary className="quiet">More, seldom needed for this kind of work</summary>
            <Spreader coat={coat} index={index} change={change} figure={figures?.notch ?? null} plan={plan} />
          </details>
        ) : (
          <Spreader coat={coat} index={index} change={change} figure={figures?.notch ?? null} plan={plan} />
        )}
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
              onChoose={(rule) =>
                void set("rule of thumb", { favourite_rule: rule as Present<Coat["favourite_rule"]> })
              }
            />
            <RuleTable figures={figures} plan={plan} own={coat.favourite_rule} />
            {figures.creep ? (
              <p className="text-[13px] mt-1">
                {piece.level ? "As it stands" : "At a tilt of 1°"} the film creeps{" "}
                <Fig figure={figures.creep} plan={plan} />
                {figures.edge_film ? (
                  <>
                    ; an upright edge keeps {film(figures.edge_film.value)} (
                    <Fig figure={figures.edge_film} plan={plan} />)
                  </>
                ) : null}
                .
              </p>
            ) : (
              <p className="text-[12px] text-slate mt-1">
                How it creeps and what an edge keeps is said once a system with a viscosity is chosen.
              </p>
            )}
          </section>
        ) : null}
        <p className="text-[12px] text-slate">
          All film thicknesses are wet: {text(0.025, "fraction", units)} or so is lost as it cures.
        </p>
        <p>
          <button className="quiet" onClick={() => void remove()}>
            Remove this coat
          </button>{" "}
          <span className="text-[12px] text-slate">(undo brings it back)</span>
        </p>
      </div>
    </div>
  );
}

/** Seal and flood may be different systems: each with the film it reaches up to. */
function FilmPortions({
  coat,
  index,
  change,
  standard,
}: {
  coat: Coat;
  index: number;
  change: Props["change"];
  standard: string | null;
}) {
  const shelf = useShelf();
  const sheets = shelf.data ?? [];
  const set = (what: string, id: string, part: Partial<Coat["portions"][number]>) =>
    change(what, (one) => ({
      ...one,
      portions: one.portions.map((portion) => (portion.id === id ? { ...portion, ...part } : portion)),
    }));
  const add = () =>
    change("another coat of it", (one) => {
      const fresh = {
        ...one.portions.at(-1)!,
        id: freshId(
          `${one.id.slice(0, 30)}-p`,
          one.portions.map((portion) => portion.id),
        ),
        to_m: null,
      };
      const half = (one.film_m.value - (one.existing_m?.value ?? 0)) / 2;
      const kept = one.portions.map((portion, at) =>
        at === one.portions.length - 1
          ? { ...portion, to_m: { value: half, as_typed: "", origin: "chosen" as const } }
          : portion,
      );
      return { ...one, portions: [...kept, fresh] };
    });
  return (
    <fieldset className="border-t border-line pt-2">
      <legend className="float-left w-full text-[13px] font-semibold">Laid in this order</legend>
      <div className="clear-both grid gap-2">
        {coat.portions.map((portion, at) => (
          <div key={portion.id} className="grid grid-cols-2 gap-2">
            <div>
              <label className="label" htmlFor={`system-${portion.id}`}>
                coat {at + 1}, system
              </label>
              <select
                id={`system-${portion.id}`}
                className="box"
                value={portion.system_id ?? ""}
                onChange={(event) =>
                  void set("system of a coat", portion.id, { system_id: event.target.value || null })
                }
              >
                <option value="">{standard ? "the piece's" : "not chosen"}</option>
                {sheets.map((sheet) => (
                  <option key={sheet.system.id} value={sheet.system.id}>
                    {sheet.system.name}
                  </option>
                ))}
              </select>
            </div>
            {at === coat.portions.length - 1 ? (
              <p className="self-end pb-2 text-[13px] text-slate">to the whole film</p>
            ) : (
              <QuantityField
                label="up to a film of"
                kind="length"
                reading={portion.to_m}
                pointer={`/coats/${index}/portions/${at}/to_m`}
                onCommit={(to_m) => set("film of a coat", portion.id, { to_m })}
              />
            )}
            <RecipeField
              portionId={portion.id}
              recipeId={portion.recipe_id}
              onChoose={(recipe_id, name) =>
                void set("recipe of a coat", portion.id, {
                  recipe_id,
                  ...(portion.colour ? {} : { colour: name }),
                }).catch(() => undefined)
              }
            />
          </div>
        ))}
        <p className="flex gap-4">
          <button className="quiet" onClick={() => void add()}>
            Another coat
          </button>
          {coat.portions.length > 1 ? (
            <button
              className="quiet"
              onClick={() =>
                void change("one coat less", (one) => ({
                  ...one,
                  portions: one.portions
                    .slice(0, -1)
                    .map((portion, at, all) =>
                      at === all.length - 1 ? { ...portion, to_m: null } : portion,
                    ),
                }))
              }
            >
              Take the last out
            </button>
          ) : null}
        </p>
      </div>
    </fieldset>
  );
}

const TYPICAL = "typical" as const; // until it is measured
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
  const start = {
    form: "square" as const,
    depth_m: { value: 0.003, as_typed: "3 mm", origin: TYPICAL },
    width_m: { value: 0.003, as_typed: "3 mm", origin: TYPICAL },
    pitch_m: { value: 0.006, as_typed: "6 mm", origin: TYPICAL },
  };
  if (!notch)
    return (
      <button
        className="quiet text-left"
        onClick={() => void change("notched spreader", (one) => ({ ...one, notch: start }))}
      >
        Laid with a notched spreader
      </button>
    );
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
        <button
          className="quiet text-left"
          onClick={() => void change("no spreader", (one) => ({ ...one, notch: null }))}
        >
          No spreader
        </button>
      </div>
    </fieldset>
  );
}
