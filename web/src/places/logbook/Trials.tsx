/** Small trials side by side with the least resin that still tells them apart; the better one is kept as
 *  one's own rule. */
import { judgeTrial, listTrials, planTrial, removeTrial } from "../../api/operations.generated";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useShelf } from "../../api/queries";
import { text } from "../../domain/format";
import { Fig } from "../../ui/Fig";
import { useUnits } from "../../ui/session";
import { Empty, Waiting } from "../../ui/states";
import { LogbookHead } from "./LogbookHead";

type List = Schemas["TrialList"];
type Stored = Schemas["StoredTrial"];

export function Trials() {
  const client = useQueryClient();
  const shelf = useShelf();
  const list = useQuery({ queryKey: ["trials"], queryFn: () => listTrials() });
  const [what, setWhat] = useState("");
  const [system, setSystem] = useState("");
  const [problem, setProblem] = useState("");
  if (!list.data || !shelf.data) return <Waiting error={list.error ?? shelf.error} what="the trials" />;
  const { table, trials } = list.data;
  const attempt = async (work: Promise<List>) => {
    try {
      client.setQueryData(["trials"], await work);
      setProblem("");
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <div className="px-7 py-5 max-w-[1000px] max-sm:px-3">
      <LogbookHead />
      <p className="mt-2 max-w-[70ch]">
        Where makers disagree, try it: one batch, parted, everything alike but one thing.
      </p>
      <form
        className="flex flex-wrap gap-3 items-end mt-3"
        onSubmit={(event) => {
          event.preventDefault();
          const of = system || shelf.data[0]?.system.id;
          if (of) void attempt(planTrial({ what: what || table[0]!.code, system_id: of }));
        }}
      >
        <label className="text-[13px] text-slate">
          question
          <select
            className="box"
            value={what || table[0]!.code}
            onChange={(event) => setWhat(event.target.value)}
          >
            {table.map((one) => (
              <option key={one.code} value={one.code}>
                {one.question}
              </option>
            ))}
          </select>
        </label>
        <label className="text-[13px] text-slate">
          resin
          <select
            className="box"
            value={system || shelf.data[0]?.system.id}
            onChange={(event) => setSystem(event.target.value)}
          >
            {shelf.data.map((one) => (
              <option key={one.system.id} value={one.system.id}>
                {one.system.name}
              </option>
            ))}
          </select>
        </label>
        <button className="key" type="submit" disabled={!shelf.data.length}>
          Plan the trial
        </button>
      </form>
      {problem ? (
        <p role="alert" className="text-rust mt-2">
          {problem}
        </p>
      ) : null}
      {trials.length === 0 ? (
        <Empty title="No trial yet">Choose a question above.</Empty>
      ) : (
        <ul className="rule mt-4 border-t border-ink">
          {trials.map((one) => (
            <Item key={one.id} one={one} attempt={attempt} />
          ))}
        </ul>
      )}
    </div>
  );
}

function Item({ one, attempt }: { one: Stored; attempt: (work: Promise<List>) => Promise<void> }) {
  const { units } = useUnits();
  const { trial, row } = one;
  const set = (index: number, part: Partial<Schemas["Variant"]>, kept = trial.kept) =>
    void attempt(
      judgeTrial(one.id, {
        ...trial,
        kept: kept ?? null,
        variants: trial.variants.map((variant, place) =>
          place === index ? { ...variant, ...part } : variant,
        ),
      }),
    );
  const plan = { workings: one.workings ?? {} };
  return (
    <li className="py-3" aria-label={trial.question}>
      <p className="flex flex-wrap justify-between gap-3">
        <b className="font-semibold text-[16px]">{trial.question}</b>
        <span className="text-[13px]">
          {one.in_all ? null : "Its resin stands on the shelf no more. "}mix{" "}
          <Fig figure={one.in_all} plan={plan} className="font-semibold" />,{" "}
          <Fig figure={one.each} plan={plan} /> each; look after {text(row?.look_s ?? 0, "duration", units)}
        </span>
      </p>
      <ol className="list-decimal pl-5 text-[13.5px]">
        {(row?.steps ?? []).map((step) => (
          <li key={step}>{step}</li>
        ))}
      </ol>
      <p className="text-[13px]">Judged by: {row?.judged_by}</p>
      <table className="plain mt-1">
        <thead>
          <tr>
            <th>tried</th>
            <th>stars</th>
            <th>what was seen</th>
            <th>
              <span className="sr-only">keep</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {trial.variants.map((variant, index) => (
            <tr key={variant.called}>
              <th scope="row">{variant.called}</th>
              <td className="whitespace-nowrap">
                {[1, 2, 3, 4, 5].map((star) => (
                  <button
                    key={star}
                    aria-label={`${variant.called}: ${star} of 5`}
                    aria-pressed={variant.stars === star}
                    className={`min-h-7 min-w-6 ${star <= (variant.stars ?? 0) ? "text-amber" : "text-slate"}`}
                    onClick={() => set(index, { stars: star })}
                  >
                    {star <= (variant.stars ?? 0) ? "★" : "☆"}
                  </button>
                ))}
              </td>
              <td>
                <input
                  className="box"
                  aria-label={`${variant.called}: what was seen`}
                  defaultValue={variant.seen}
                  maxLength={120}
                  onBlur={(event) =>
                    event.target.value !== variant.seen && set(index, { seen: event.target.value })
                  }
                />
              </td>
              <td>
                {trial.kept === index ? (
                  <b className="text-spruce font-semibold">
                    my rule{" "}
                    <button className="quiet" onClick={() => set(index, {}, null)}>
                      open it again
                    </button>
                  </b>
                ) : (
                  <button className="quiet" disabled={!variant.stars} onClick={() => set(index, {}, index)}>
                    keep as my rule
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <button className="quiet text-[13px]" onClick={() => void attempt(removeTrial(one.id))}>
        Remove
      </button>
    </li>
  );
}
