/** Colours: recipes by weight (scaled, mixed of two, repeated from a record, swatch and opacity), and the
 *  colourants they are made of. */
import {
  blendRecipes,
  listAllWeighings,
  readOpacity,
  repeatColour,
  retireGood,
  scaleRecipe,
} from "../../api/operations.generated";
import { useKeepGoods } from "../../api/changes";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { type Schemas } from "../../api/client";
import { useEverythingAnew, useShelfItems } from "../../api/queries";
import { text } from "../../domain/format";
import { freshId } from "../../domain/shapes";
import { complaint } from "../../ui/FileDrop";
import { QuantityField, TextField, type Reading } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { useOnce } from "../../ui/useOnce";
import { Empty, Waiting } from "../../ui/states";
import { Colourants } from "./Colourants";
import { SwatchPhoto } from "./SwatchPhoto";

export type Recipe = Schemas["Recipe"];
export type ShelfItems = Schemas["ShelfItems"];
type Parts = Schemas["PartsAnswer"];

export function ColourShelf() {
  const shelfItems = useShelfItems();
  const anew = useEverythingAnew();
  const [open, setOpen] = useState("");
  const recipes = Object.values(shelfItems.data?.recipes ?? {});
  const keepRecipe = useKeepGoods("recipe", recipes);
  const shown = recipes.find((one) => one.id === open) ?? recipes[0];
  const isFirstIn = useFirstIn(shown);
  if (!shelfItems.data || !isFirstIn) return <Waiting error={shelfItems.error} what="the colours" />;
  const keep = async (one: Recipe) => {
    await keepRecipe(one);
    setOpen(one.id);
  };
  const fresh = (
    name: string,
    parts: Recipe["parts"],
    came_from: string,
    lots: Record<string, string> = {},
  ) =>
    keep({
      id: freshId(
        "colour",
        recipes.map((one) => one.id),
      ),
      version: 1,
      name,
      tint: shown?.tint ?? "#7C8C86",
      parts,
      came_from,
      lots,
    });
  return (
    <div className="grid grid-cols-[260px_minmax(0,1fr)] max-lg:block">
      <nav aria-label="Recipes" className="px-7 py-3 border-r border-line max-sm:px-3 max-lg:border-r-0">
        <ul className="rule">
          {recipes.map((one) => (
            <li key={one.id}>
              <button
                aria-current={one === shown ? "true" : undefined}
                onClick={() => setOpen(one.id)}
                className={`w-full text-left flex gap-3 items-center py-2 pl-2 border-l-4 ${one === shown ? "border-spruce font-semibold" : "border-transparent"}`}
              >
                <Chip tint={one.tint ?? "#7C8C86"} />
                {one.name}
              </button>
            </li>
          ))}
        </ul>
        <NewRecipe shelfItems={shelfItems.data} onMade={fresh} />
      </nav>
      <div className="px-7 py-3 max-w-[820px] max-sm:px-3">
        {shown ? (
          <RecipeView
            key={shown.id + (shown.version ?? 1)}
            recipe={shown}
            shelfItems={shelfItems.data}
            keep={keep}
            onRemove={async () => {
              await retireGood("recipe", shown.id);
              await anew();
            }}
          />
        ) : (
          <Empty title="No recipe yet">
            A recipe is a share of each colourant for one part of clear mix, by weight. Make one from what is
            on the shelf.
          </Empty>
        )}
        <Colourants all={Object.values(shelfItems.data.colourants ?? {})} />
      </div>
    </div>
  );
}

/** What the first recipe comes to has been worked out: its length is known, what stands below it stays there. */
function useFirstIn(recipe: Recipe | undefined): boolean {
  const scaled = useScaled(recipe, CLEAR);
  const opacity = useOpacity(recipe, LAYER);
  const isIn = useOnce(!!recipe && !scaled.isLoading && !opacity.isLoading);
  return isIn || !recipe;
}

export function Chip({ tint, size = 26 }: { tint: string; size?: number }) {
  return (
    <svg width={size} height={size} aria-hidden="true" className="shrink-0">
      <rect
        x="1"
        y="1"
        width={size - 2}
        height={size - 2}
        fill={tint}
        className="stroke-ink"
        strokeWidth="1.5"
      />
    </svg>
  );
}

function RecipeView({
  recipe,
  shelfItems,
  keep,
  onRemove,
}: {
  recipe: Recipe;
  shelfItems: ShelfItems;
  keep: (one: Recipe) => Promise<void>;
  onRemove: () => Promise<void>;
}) {
  const total = recipe.parts.reduce((sum, part) => sum + part.share.value, 0);
  const name = (id: string) => shelfItems.colourants?.[id]?.name ?? `${id}, not on the shelf`;
  const free = Object.values(shelfItems.colourants ?? {}).filter(
    (one) => !recipe.parts.some((part) => part.colourant_id === one.id),
  );
  const swap = (index: number, share: Reading) =>
    keep({
      ...recipe,
      parts: recipe.parts.map((part, at) => (at === index ? { ...part, share: share } : part)),
    });
  return (
    <section aria-label={recipe.name}>
      <div className="flex gap-3 items-center">
        <Chip tint={recipe.tint ?? "#7C8C86"} size={44} />
        <div>
          <h2 className="text-[25px]">{recipe.name}</h2>
          <p className="text-slate text-[13px]">
            version {recipe.version}
            {recipe.came_from ? ` · ${recipe.came_from}` : ""} · {(100 * total).toFixed(2)} % of the clear mix
            in all
          </p>
        </div>
      </div>
      <table className="plain mt-3">
        <thead>
          <tr>
            <th>colourant</th>
            <th>share of the clear mix</th>
            <th>lot then</th>
            <th>
              <span className="sr-only">take out</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {recipe.parts.map((part, index) => (
            <tr key={part.colourant_id}>
              <td className="font-medium">{name(part.colourant_id)}</td>
              <td className="w-40">
                <QuantityField
                  label={`share of ${name(part.colourant_id)}`}
                  hideLabel
                  kind="fraction"
                  reading={part.share}
                  onCommit={(reading) => (reading ? swap(index, reading) : undefined)}
                />
              </td>
              <td>{recipe.lots?.[part.colourant_id] ?? "not noted"}</td>
              <td className="text-right">
                {recipe.parts.length > 1 ? (
                  <button
                    className="quiet text-[13px]"
                    onClick={() =>
                      void keep({ ...recipe, parts: recipe.parts.filter((_, at) => at !== index) })
                    }
                  >
                    remove
                  </button>
                ) : null}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {free.length ? (
        <label className="text-[13px] text-slate">
          another colourant{" "}
          <select
            className="box w-60! ml-2"
            value=""
            onChange={(event) =>
              event.target.value &&
              void keep({
                ...recipe,
                parts: [
                  ...recipe.parts,
                  {
                    colourant_id: event.target.value,
                    share: { value: 0.005, as_typed: "0.5 %", origin: "chosen" },
                  },
                ],
              })
            }
          >
            <option value="">choose …</option>
            {free.map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
              </option>
            ))}
          </select>
        </label>
      ) : null}
      <div className="grid grid-cols-2 gap-8 mt-4 max-md:grid-cols-1">
        <Scaled recipe={recipe} name={name} />
        <Opacity recipe={recipe} keep={keep} />
      </div>
      <SwatchPhoto recipe={recipe} keep={keep} />
      <div className="grid grid-cols-3 gap-3 mt-4 items-end max-sm:grid-cols-1">
        <TextField
          label="name"
          required
          value={recipe.name}
          onCommit={(named) => keep({ ...recipe, name: named })}
        />
        <label className="text-[13px] text-slate">
          tint on the drawings
          <input
            type="color"
            className="block w-full h-9"
            value={(recipe.tint ?? "#7C8C86").toLowerCase()}
            onChange={(event) => void keep({ ...recipe, tint: event.target.value.toUpperCase() })}
          />
        </label>
        <button className="quiet text-left" onClick={() => void onRemove()}>
          Take it off the shelf
        </button>
      </div>
    </section>
  );
}

/** What is asked at first: a batch as usual, a layer as usual. */
const CLEAR: Reading = { value: 0.5, as_typed: "500 g" };
const LAYER: Reading = { value: 0.012, as_typed: "12 mm" };

function useScaled(recipe: Recipe | undefined, clear: Reading | null) {
  return useQuery({
    queryKey: ["scaled", recipe?.id, recipe?.version, clear?.value],
    queryFn: () => scaleRecipe(recipe!.id, { clear: clear! }),
    enabled: !!recipe && !!clear,
  });
}

function useOpacity(recipe: Recipe | undefined, depth: Reading | null) {
  return useQuery({
    queryKey: ["opacity", recipe?.id, recipe?.version, depth?.value],
    queryFn: () => readOpacity(recipe!.id, { depth: depth!, wanted: 0.02 }),
    enabled: !!depth && !!recipe?.swatch?.lets_through,
    retry: false,
  });
}

/** The rows are there before their weights: what stands below them keeps its place. */
function Scaled({ recipe, name }: { recipe: Recipe; name: (id: string) => string }) {
  const { units } = useUnits();
  const [clear, setClear] = useState<Reading | null>(CLEAR);
  const found = useScaled(recipe, clear);
  return (
    <section aria-label="For a batch">
      <h3 className="font-semibold border-b border-ink">For a batch</h3>
      <div className="w-40 mt-2">
        <QuantityField label="clear mix, A and B" kind="mass" reading={clear} onCommit={setClear} />
      </div>
      {recipe.parts.map((part) => {
        const one = found.data?.doses.find((dose) => dose.colourant_id === part.colourant_id);
        return (
          <div key={part.colourant_id} className="mt-1">
            <p className="flex justify-between items-baseline">
              <span>{name(part.colourant_id)}</span>
              <span className="whitespace-nowrap">
                <b className="text-[19px] font-semibold tabular-nums">
                  {one ? `${Number((one.mass_kg * 1000).toFixed(3))} g` : found.isFetching ? "…" : "–"}
                </b>
                {typeof one?.drops === "number" ? ` ≈ ${one.drops} drops` : ""}
              </span>
            </p>
            <p
              className={`text-[12.5px] text-right ${one && Math.abs(one.off) > 0.1 ? "text-rust font-semibold" : "text-slate"}`}
            >
              {one?.off
                ? `${one.off > 0 ? "+" : "−"}${(100 * Math.abs(one.off)).toFixed(1)} % by the scale's step`
                : one
                  ? "exactly"
                  : found.isFetching
                    ? "…"
                    : "not worked out"}
            </p>
          </div>
        );
      })}
      {found.data || found.isFetching ? (
        <p className="text-slate text-[13px] mt-1">
          From {found.data ? text(found.data.least_clear_kg, "mass", units) : "…"} of clear mix on, the scale
          weighs every one of them to a tenth.
        </p>
      ) : null}
      {found.error ? (
        <p role="alert" className="text-rust">
          {found.error.message}
        </p>
      ) : null}
    </section>
  );
}

function Opacity({ recipe, keep }: { recipe: Recipe; keep: (one: Recipe) => Promise<void> }) {
  const [depth, setDepth] = useState<Reading | null>(LAYER);
  const swatch = recipe.swatch;
  const found = useOpacity(recipe, depth);
  return (
    <section aria-label="How opaque">
      <h3 className="font-semibold border-b border-ink">How opaque at a depth</h3>
      <div className="grid grid-cols-2 gap-3 mt-2">
        <QuantityField
          label="swatch is thick"
          kind="length"
          reading={swatch?.depth_m}
          onCommit={(reading) =>
            reading
              ? keep({
                  ...recipe,
                  swatch: { ...swatch, depth_m: reading },
                })
              : undefined
          }
        />
        {swatch ? (
          <QuantityField
            label="lets through"
            kind="fraction"
            optional
            help="over a printed card"
            reading={swatch.lets_through as Reading | null}
            onCommit={(reading) =>
              keep({
                ...recipe,
                swatch: { ...swatch, lets_through: reading },
              })
            }
          />
        ) : (
          <span />
        )}
        <QuantityField label="a layer of" kind="length" reading={depth} onCommit={setDepth} />
      </div>
      {found.data ? (
        <p className="mt-1">
          <b className="text-[19px] font-semibold">
            {found.data.through < 0.001 ? "< 0.1" : (100 * found.data.through).toFixed(1)} %
          </b>{" "}
          of the light comes through: {found.data.looks}.
          {typeof found.data.times === "number"
            ? ` For an opaque layer it takes ${found.data.times.toFixed(1)} times the colour.`
            : ""}{" "}
          <span className="text-slate text-[12.5px]">{found.data.note}</span>
        </p>
      ) : (
        <p className="text-slate text-[13px]">
          Cast a thin swatch and say how much light it lets through; then any depth is worked out.
        </p>
      )}
    </section>
  );
}

function NewRecipe({
  shelfItems,
  onMade,
}: {
  shelfItems: ShelfItems;
  onMade: (
    name: string,
    parts: Recipe["parts"],
    from: string,
    lots?: Record<string, string>,
  ) => Promise<void>;
}) {
  const [way, setWay] = useState<"" | "one" | "two" | "again">("");
  return (
    <div className="mt-4 grid gap-2">
      <button className="quiet text-left" onClick={() => setWay(way === "one" ? "" : "one")}>
        A new recipe
      </button>
      {way === "one" ? <FromColourant shelfItems={shelfItems} onMade={onMade} /> : null}
      <button className="quiet text-left" onClick={() => setWay(way === "two" ? "" : "two")}>
        Pour two colours together
      </button>
      {way === "two" ? <OfTwo shelfItems={shelfItems} onMade={onMade} /> : null}
      <button className="quiet text-left" onClick={() => setWay(way === "again" ? "" : "again")}>
        Last month's colour again
      </button>
      {way === "again" ? <Again onMade={onMade} /> : null}
    </div>
  );
}

interface Made {
  onMade: (
    name: string,
    parts: Recipe["parts"],
    from: string,
    lots?: Record<string, string>,
  ) => Promise<void>;
}

function FromColourant({ shelfItems, onMade }: Made & { shelfItems: ShelfItems }) {
  const [name, setName] = useState("");
  const all = Object.values(shelfItems.colourants ?? {});
  const [id, setId] = useState(all[0]?.id ?? "");
  return (
    <div className="grid gap-2 border-l-4 border-line pl-3">
      <label className="text-[13px] text-slate">
        name
        <input className="box" value={name} onChange={(event) => setName(event.target.value)} />
      </label>
      <label className="text-[13px] text-slate">
        first colourant
        <select className="box" value={id} onChange={(event) => setId(event.target.value)}>
          {all.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </select>
      </label>
      <button
        className="key"
        disabled={!name.trim() || !id}
        onClick={() =>
          void onMade(
            name,
            [{ colourant_id: id, share: { value: 0.01, as_typed: "1 %", origin: "chosen" } }],
            "",
          )
        }
      >
        Make it
      </button>
    </div>
  );
}

function OfTwo({ shelfItems, onMade }: Made & { shelfItems: ShelfItems }) {
  const recipes = Object.values(shelfItems.recipes ?? {});
  const [ids, setIds] = useState([recipes[0]?.id ?? "", recipes[1]?.id ?? ""]);
  const [weights, setWeights] = useState<(Reading | null)[]>([null, null]);
  const [found, setFound] = useState<Parts | null>(null);
  const [problem, setProblem] = useState("");
  const names = ids.map((id) => recipes.find((one) => one.id === id)?.name ?? "");
  const mix = async () => {
    try {
      setFound(
        await blendRecipes({
          mixes: ids.map((recipe_id, at) => ({ recipe_id, mass: weights[at]! })),
        }),
      );
      setProblem("");
    } catch (error) {
      setProblem(complaint(error));
    }
  };
  return (
    <div className="grid gap-2 border-l-4 border-line pl-3">
      {[0, 1].map((at) => (
        <div key={at} className="grid grid-cols-2 gap-2">
          <label className="text-[13px] text-slate">
            colour
            <select
              className="box"
              value={ids[at]}
              onChange={(event) => setIds(ids.map((one, where) => (where === at ? event.target.value : one)))}
            >
              {recipes.map((one) => (
                <option key={one.id} value={one.id}>
                  {one.name}
                </option>
              ))}
            </select>
          </label>
          <QuantityField
            label="weighs, as mixed"
            kind="mass"
            reading={weights[at]}
            onCommit={(reading) =>
              setWeights((now) => now.map((one, where) => (where === at ? reading : one)))
            }
          />
        </div>
      ))}
      <button className="key" disabled={!weights.every(Boolean)} onClick={() => void mix()}>
        What comes of it?
      </button>
      {problem ? (
        <p role="alert" className="text-rust text-[13px]">
          {problem}
        </p>
      ) : null}
      {found ? (
        <>
          <Shares parts={found.parts} shelfItems={shelfItems} />
          <button
            className="quiet text-left"
            onClick={() =>
              void onMade(`${names.join(" and ")}`, found.parts, `poured together of ${names.join(" and ")}`)
            }
          >
            Keep it as a recipe
          </button>
        </>
      ) : null}
    </div>
  );
}

function Shares({ parts, shelfItems }: { parts: Recipe["parts"]; shelfItems: ShelfItems }) {
  return (
    <ul className="text-[13px]">
      {parts.map((part) => (
        <li key={part.colourant_id} className="flex justify-between">
          <span>{shelfItems.colourants?.[part.colourant_id]?.name ?? part.colourant_id}</span>
          <span className="tabular-nums">{(100 * part.share.value).toFixed(3)} %</span>
        </li>
      ))}
    </ul>
  );
}

function Again({ onMade }: Made) {
  const shelfItems = useShelfItems();
  const { zone } = useUnits();
  const records = useQuery({
    queryKey: ["weighings"],
    queryFn: async () => (await listAllWeighings()).weighings,
  });
  const [found, setFound] = useState<{ parts: Parts; called: string } | null>(null);
  const [problem, setProblem] = useState("");
  const coloured = (records.data ?? []).filter((one) => Object.keys(one.colourants).length);
  const pick = async (id: number, called: string) => {
    try {
      setFound({ parts: await repeatColour({ weighing_id: id }), called });
      setProblem("");
    } catch (error) {
      setProblem(complaint(error));
    }
  };
  return (
    <div className="grid gap-2 border-l-4 border-line pl-3 text-[13px]">
      {coloured.length === 0 ? <p className="text-slate">No coloured batch was weighed here yet.</p> : null}
      {coloured.map((one) => (
        <button key={one.id} className="quiet text-left" onClick={() => void pick(one.id, one.called)}>
          {one.called},{" "}
          {new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeZone: zone }).format(
            new Date(one.made_at),
          )}
        </button>
      ))}
      {problem ? (
        <p role="alert" className="text-rust">
          {problem}
        </p>
      ) : null}
      {found ? (
        <div role="status">
          <p className="font-medium">As it was really weighed:</p>
          {shelfItems.data ? <Shares parts={found.parts.parts} shelfItems={shelfItems.data} /> : null}
          {(found.parts.said ?? []).map((one) => (
            <p key={one} className="text-rust font-medium mt-1">
              {one}
            </p>
          ))}
          <button
            className="quiet text-left"
            onClick={() =>
              void onMade(
                `${found.called.split(",")[0]}, again`,
                found.parts.parts,
                `weighed for ${found.called}`,
                found.parts.lots,
              )
            }
          >
            Keep it as a recipe
          </button>
        </div>
      ) : null}
    </div>
  );
}
