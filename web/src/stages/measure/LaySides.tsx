/** One coat's film, amount and rule side by side: whichever is typed leads, the other two follow from the plan. */
import { useEffect, useId, useState } from "react";
import { Refused, type FieldProblem } from "../../api/client";
import type { Plan } from "../../api/queries";
import { film, text } from "../../domain/format";
import { SIDES, sideOf, typedOf, withSide, type Lay, type Side } from "../../domain/lays";
import { Fig } from "../../ui/Fig";
import { FieldHelp } from "../../ui/FieldHelp";
import { readingOf, readQuantity } from "../../ui/readQuantity";
import { useUnits } from "../../ui/session";

type LayPlan = NonNullable<NonNullable<Plan["coats"]>[number]["lays"]>[number];

interface Props {
  lay: Lay;
  /** its name for who cannot see which coat the fields belong to */
  name: string;
  figures: LayPlan | undefined;
  plan: Plan;
  pointer: string;
  /** on the coat as it is by then: other fields of it may have changed meanwhile */
  change: (fn: (lay: Lay) => Lay) => Promise<void>;
}

const LABELS: Record<Side, string> = { film: "film", amount: "amount to mix", rule: "rule, per area" };
const LIKE: Record<Side, string> = { film: "1 mm", amount: "200 mL in all", rule: "30 g per 1000 cm2" };

export function LaySides({ lay, name, figures, plan, pointer, change }: Props) {
  const { units, currency } = useUnits();
  const asked = plan.verdicts.find(
    (one) => one.code === "in-all-or-each" && one.where === `${pointer}/amount`,
  );
  const computed: Record<Side, string> = {
    film: figures ? film(figures.film.value) : "",
    amount: figures ? text(figures.mixed.value, "volume", units) : "",
    rule: figures?.rule ?? "",
  };
  const against = figures?.against;
  const over = against?.over.value ?? 0;
  return (
    <div>
      <div className="grid grid-cols-3 gap-2 max-sm:grid-cols-1">
        {SIDES.map((side) => (
          <SideField
            key={side}
            side={side}
            name={name}
            lay={lay}
            computed={computed[side]}
            pointer={pointer}
            change={change}
          />
        ))}
      </div>
      {asked && lay.amount ? (
        <p role="alert" className="text-[13px] text-rust font-medium flex flex-wrap items-baseline gap-x-3">
          {lay.amount.as_typed} is meant
          {["in all", "of each part"].map((sense) => (
            <button
              key={sense}
              className="quiet"
              onClick={() =>
                void change((now) => withSide(now, "amount", `${lay.amount!.as_typed} ${sense}`))
              }
            >
              {sense}
            </button>
          ))}
        </p>
      ) : null}
      {figures ? (
        <p className="text-[13px] text-slate">
          {figures.says}{" "}
          {figures.mass ? (
            <>
              On the scale <Fig figure={figures.mass} plan={plan} />.{" "}
            </>
          ) : null}
          {against && Math.abs(against.share) > 0.005 ? (
            <>
              <Fig
                figure={against.over}
                plan={plan}
                as={{ number: text(Math.abs(over), "volume", units), unit: "" }}
              />{" "}
              {over > 0 ? "over" : "short of"} {against.words} ({Math.round(Math.abs(against.share) * 100)} %
              {against.cost ? `, ${text(Math.abs(against.cost.value), "money", units, currency)}` : ""}).
            </>
          ) : null}
        </p>
      ) : null}
    </div>
  );
}

interface FieldProps {
  side: Side;
  name: string;
  lay: Lay;
  computed: string;
  pointer: string;
  /** on the coat as it is by then: other fields of it may have changed meanwhile */
  change: (fn: (lay: Lay) => Lay) => Promise<void>;
}

function SideField({ side, name, lay, computed, pointer, change }: FieldProps) {
  const { units } = useUnits();
  const id = useId();
  const leads = sideOf(lay) === side;
  const written = leads ? typedOf(lay, side) || computed : computed;
  const [typed, setTyped] = useState(written);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<FieldProblem | null>(null);
  useEffect(() => {
    if (!busy && !problem) setTyped(written);
  }, [written]); // eslint-disable-line
  const commit = async (value: string) => {
    setBusy(false);
    if (value.trim() === written.trim() && !problem) return;
    if (!value.trim()) {
      setProblem(null);
      return setTyped(written);
    }
    try {
      const told =
        side === "film" ? readingOf(await readQuantity(value, "length", units), "chosen") : value.trim();
      await change((now) => withSide(now, side, told as string));
      setProblem(null);
    } catch (error) {
      const first = error instanceof Refused ? error.problem.problems?.[0] : undefined;
      setProblem(
        (error instanceof Refused && error.about(`${pointer}/${side}`)) ||
          first || { pointer: "", message: (error as Error).message, value: "", way_out: "", code: "" },
      );
    }
  };
  return (
    <div className="min-w-0">
      <div className="flex items-end gap-x-1 text-[13px] text-slate">
        <label htmlFor={id} className="label">
          {LABELS[side]}
          <span className="sr-only"> of {name}</span>
        </label>
        {side === "film" ? <FieldHelp label="film of a coat" /> : null}
        {leads ? null : <span className="ml-auto">follows</span>}
      </div>
      <input
        id={id}
        className={`box tabular-nums ${leads ? "font-semibold" : "text-slate"}`}
        value={typed}
        placeholder={LIKE[side]}
        autoComplete="off"
        aria-invalid={problem ? true : undefined}
        aria-describedby={`${id}-says`}
        onFocus={(event) => event.target.select()}
        onChange={(event) => {
          setBusy(true);
          setProblem(null);
          setTyped(event.target.value);
        }}
        onBlur={(event) => void commit(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter") void commit(event.currentTarget.value);
          if (event.key === "Escape") {
            setTyped(written);
            setBusy(false);
            setProblem(null);
          }
        }}
      />
      <div id={`${id}-says`} aria-live="polite" className="text-[12px]">
        {problem ? (
          <p className="text-rust font-medium py-0.5">
            {problem.message} {problem.choices?.length ? "" : problem.way_out}
            {(problem.choices ?? []).map((choice) => (
              <button
                key={choice}
                className="quiet mr-3"
                onMouseDown={(event) => event.preventDefault()}
                onClick={() => {
                  setTyped(choice);
                  void commit(choice);
                }}
              >
                {choice}
              </button>
            ))}
          </p>
        ) : null}
      </div>
    </div>
  );
}
