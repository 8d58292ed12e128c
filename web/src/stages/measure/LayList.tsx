/** The coats of a surface one after another, each by film, amount or rule, with what comes between. */
import type { Piece, Plan } from "../../api/queries";
import { useShelf } from "../../api/queries";
import { JOINS, moved, ROLES, withCoat, withLay, without, type Lay } from "../../domain/lays";
import type { Coat } from "../../domain/surfaces";
import { Check } from "../../ui/Check";
import { QuantityField } from "../../ui/QuantityField";
import { LaySides } from "./LaySides";
import { RecipeField } from "./RecipeField";

interface Props {
  coat: Coat;
  index: number;
  piece: Piece;
  plan: Plan;
  change: (what: string, fn: (coat: Coat) => Coat) => Promise<void>;
  /** which coat a rule of the table is taken for */
  chosen: string;
  choose: (id: string) => void;
}

export function LayList({ coat, index, piece, plan, change, chosen, choose }: Props) {
  const figures = plan.coats?.find((one) => one.coat_id === coat.id);
  const total = coat.lays.reduce((sum, one) => sum + (one.times ?? 1), 0);
  return (
    <section aria-label="Coats, one after another" className="border-t border-line pt-2">
      <h2>Coats, one after another</h2>
      <ol className="grid gap-3 mt-1">
        {coat.lays.map((lay, at) => {
          const before = coat.lays.slice(0, at).reduce((sum, one) => sum + (one.times ?? 1), 0);
          const times = lay.times ?? 1;
          const name = times > 1 ? `coats ${before + 1} to ${before + times}` : `coat ${before + 1}`;
          return (
            <li
              key={lay.id}
              className={`border-l-4 pl-3 ${lay.id === chosen ? "border-spruce" : "border-line"}`}
              onFocus={() => choose(lay.id)}
            >
              <div className="flex flex-wrap items-center gap-x-3 gap-y-1 mb-1">
                <b className="font-semibold">{name}</b>
                <select
                  className="box w-auto! py-1!"
                  aria-label={`what ${name} is for`}
                  value={lay.role ?? "not said"}
                  onChange={(event) => {
                    const role = event.target.value as NonNullable<Lay["role"]>;
                    void change("what a coat is for", (one) =>
                      withLay(one, lay.id, (now) => ({ ...now, role })),
                    );
                  }}
                >
                  {ROLES.map(([role, word]) => (
                    <option key={role} value={role}>
                      {word}
                    </option>
                  ))}
                </select>
                <Times
                  name={name}
                  times={times}
                  onChange={(next) =>
                    change("times a coat is laid", (one) =>
                      withLay(one, lay.id, (now) => ({ ...now, times: next })),
                    )
                  }
                />
                {lay.again ? <span className="text-[13px] text-rust">added at the inspection</span> : null}
                <span className="ml-auto flex gap-3 text-[13px] [&_button]:min-h-[24px]">
                  <button
                    className="quiet"
                    disabled={at === 0}
                    aria-label={`Lay ${name} sooner`}
                    onClick={() => void change("order of coats", (one) => moved(one, lay.id, -1))}
                  >
                    sooner
                  </button>
                  <button
                    className="quiet"
                    disabled={at === coat.lays.length - 1}
                    aria-label={`Lay ${name} later`}
                    onClick={() => void change("order of coats", (one) => moved(one, lay.id, 1))}
                  >
                    later
                  </button>
                  <button
                    className="quiet"
                    aria-label={`Copy ${name}`}
                    onClick={() => void change("copied a coat", (one) => withCoat(one, lay, at + 1))}
                  >
                    copy
                  </button>
                  <button
                    className="quiet"
                    disabled={coat.lays.length === 1}
                    aria-label={`Remove ${name}`}
                    onClick={() => void change("removed a coat", (one) => without(one, lay.id))}
                  >
                    remove
                  </button>
                </span>
              </div>
              <LaySides
                lay={lay}
                name={name}
                figures={figures?.lays?.find((one) => one.lay_id === lay.id)}
                plan={plan}
                pointer={`/coats/${index}/lays/${at}`}
                change={(fn) => change(`film of ${name}`, (one) => withLay(one, lay.id, fn))}
              />
              <Details
                lay={lay}
                name={name}
                isFirst={at === 0 && !coat.existing_m}
                standard={piece.system_id ?? null}
                change={(what, fn) => change(what, (one) => withLay(one, lay.id, fn))}
              />
            </li>
          );
        })}
      </ol>
      <p className="flex flex-wrap gap-4 mt-2 items-baseline">
        <button className="quiet" onClick={() => void change("added a coat", (one) => withCoat(one))}>
          Another coat
        </button>
        <span className="text-[13px] text-slate">
          {total} {total === 1 ? "coat" : "coats"} in all; films are wet.
        </span>
      </p>
    </section>
  );
}

const MOST_TIMES = 12;

function Times({
  name,
  times,
  onChange,
}: {
  name: string;
  times: number;
  onChange: (next: number) => Promise<void>;
}) {
  return (
    <span className="inline-flex items-center gap-1 text-[13px]">
      <select
        className="box w-auto! py-1!"
        aria-label={`how many times ${name} is laid`}
        value={times}
        onChange={(event) => void onChange(Number(event.target.value))}
      >
        {Array.from({ length: MOST_TIMES }, (_, at) => (
          <option key={at} value={at + 1}>
            {at + 1} ×
          </option>
        ))}
      </select>
    </span>
  );
}

interface DetailProps {
  lay: Lay;
  name: string;
  isFirst: boolean;
  standard: string | null;
  change: (what: string, fn: (lay: Lay) => Lay) => Promise<void>;
}

/** Resin, colour, and what is done to the coat below. */
function Details({ lay, name, isFirst, standard, change }: DetailProps) {
  const sheets = useShelf().data ?? [];
  const said = [
    lay.system_id ? sheets.find((one) => one.system.id === lay.system_id)?.system.name : "",
    lay.colour,
    !isFirst && lay.join !== "as the workshop does" ? JOINS.find(([join]) => join === lay.join)?.[1] : "",
    !isFirst && lay.grit ? `${lay.grit} grit` : "",
  ].filter(Boolean);
  return (
    <details className="mt-1">
      <summary className="quiet text-[13px]">
        Resin, colour{isFirst ? "" : ", what is done before"}
        {said.length ? <span className="text-ink font-normal">: {said.join(", ")}</span> : null}
      </summary>
      <div className="grid grid-cols-2 gap-2 mt-1 max-sm:grid-cols-1">
        <div>
          <label className="label" htmlFor={`system-${lay.id}`}>
            system of {name}
          </label>
          <select
            id={`system-${lay.id}`}
            className="box"
            value={lay.system_id ?? ""}
            onChange={(event) => {
              const system_id = event.target.value || null;
              void change("system of a coat", (one) => ({ ...one, system_id }));
            }}
          >
            <option value="">{standard ? "the piece's" : "not chosen"}</option>
            {sheets.map((sheet) => (
              <option key={sheet.system.id} value={sheet.system.id}>
                {sheet.system.name}
              </option>
            ))}
          </select>
        </div>
        <RecipeField
          portionId={lay.id}
          recipeId={lay.recipe_id}
          onChoose={(recipe_id, colour) =>
            void change("recipe of a coat", (one) => ({
              ...one,
              recipe_id,
              ...(one.colour ? {} : { colour }),
            })).catch(() => undefined)
          }
        />
        {isFirst ? null : (
          <>
            <div>
              <label className="label" htmlFor={`join-${lay.id}`}>
                {name} holds
              </label>
              <select
                id={`join-${lay.id}`}
                className="box"
                value={lay.join ?? "as the workshop does"}
                onChange={(event) => {
                  const join = event.target.value as NonNullable<Lay["join"]>;
                  void change("how a coat holds", (one) => ({ ...one, join }));
                }}
              >
                {JOINS.map(([join, word]) => (
                  <option key={join} value={join}>
                    {word}
                  </option>
                ))}
              </select>
            </div>
            <QuantityField
              label="sanded before with, grit"
              kind="count"
              optional
              origin="chosen"
              help="120 to 320 is usual"
              reading={lay.grit ? { value: lay.grit, as_typed: String(lay.grit) } : null}
              onCommit={(reading) =>
                change("grit between coats", (one) => ({ ...one, grit: reading ? reading.value : null }))
              }
            />
            <Check
              className="items-center"
              checked={lay.wiped !== false}
              onChange={(wiped) => change("wiped between coats", (one) => ({ ...one, wiped }))}
            >
              wiped with solvent after sanding
            </Check>
          </>
        )}
      </div>
    </details>
  );
}
