/** What the runs taught: each value with its band, the runs it rests on, and whether foretelling got
 *  better. */
import { listTrials, readLearned, setAside } from "../../api/operations.generated";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { scaleLinear, scaleLog } from "d3-scale";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { text } from "../../domain/format";
import { useWidth } from "../../drawing/useWidth";
import { useUnits } from "../../ui/session";
import { Empty, Waiting } from "../../ui/states";
import { LogbookHead } from "./LogbookHead";

type Learned = Schemas["Learned"];

export function LearnedPage() {
  const client = useQueryClient();
  const found = useQuery({
    queryKey: ["learned"],
    queryFn: () => readLearned(),
  });
  const [problem, setProblem] = useState("");
  const trials = useQuery({
    queryKey: ["trials"],
    queryFn: () => listTrials(),
  });
  const rules = (trials.data?.trials ?? []).filter(
    (one) => one.trial.kept !== null && one.trial.kept !== undefined,
  );
  if (!found.data) return <Waiting error={found.error} what="what was learned" />;
  const { learned, progress, runs } = found.data;
  const put = async (one: Learned) => {
    try {
      client.setQueryData(
        ["learned"],
        await setAside({ code: one.code, key: one.key, set_aside: !one.is_set_aside }),
      );
      await client.invalidateQueries();
      setProblem("");
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <div className="px-7 py-5 max-w-[1080px] max-sm:px-3">
      <LogbookHead />
      {rules.length ? (
        <section aria-label="My own rules" className="mt-3">
          <h2>My own rules</h2>
          <ul className="rule mt-1">
            {rules.map((one) => {
              const kept = one.trial.variants[one.trial.kept!]!;
              return (
                <li key={one.id} className="py-1.5">
                  <b className="font-semibold">{one.trial.question}</b> {kept.called}
                  {kept.stars ? `, ${kept.stars} of 5` : ""}
                  {kept.seen ? `: ${kept.seen}` : ""}.{" "}
                  <span className="text-slate text-[13px]">Tried with {one.trial.variants.length}; </span>
                  <Link className="quiet" to="/logbook/trials">
                    the trial
                  </Link>
                </li>
              );
            })}
          </ul>
        </section>
      ) : null}
      {learned.length === 0 ? (
        <Empty title="Nothing learned yet">
          Weigh the cup after pouring, write down tests with their times, take in a probe's log: from three
          runs up the next plan uses what they say, and says so.
        </Empty>
      ) : (
        <>
          <p className="mt-2 max-w-[70ch]">
            From {runs} finished {runs === 1 ? "run" : "runs"}. {progress.says} A value is used where nothing
            was measured or chosen, from three runs up, with a band that holds the truth nine times in ten;
            one odd run does not move it.
          </p>
          {problem ? (
            <p role="alert" className="text-rust">
              {problem}
            </p>
          ) : null}
          <ul className="rule mt-3 border-t border-ink">
            {learned.map((one) => (
              <Item key={one.code + one.key} one={one} onPut={() => void put(one)} />
            ))}
          </ul>
          {progress.points.length ? <Getting points={progress.points} /> : null}
        </>
      )}
    </div>
  );
}

function Item({ one, onPut }: { one: Learned; onPut: () => void }) {
  const { units } = useUnits();
  const [box, width] = useWidth<HTMLDivElement>();
  const say = (value: number) =>
    one.quantity === "ratio"
      ? `${value.toFixed(2)} ×`
      : one.quantity === "areal_volume"
        ? `${(value * 1e6).toFixed(0)} mL/m²`
        : text(value, one.quantity, units);
  const values = [one.low, one.high, one.typical, ...one.runs.map((run) => run.value)];
  const span: [number, number] = [Math.min(...values), Math.max(...values)];
  const pad = one.is_share ? (span[1] - span[0]) * 0.1 + 0.005 : 1.12;
  const x = one.is_share
    ? scaleLinear()
        .domain([span[0] - pad, span[1] + pad])
        .range([8, Math.max(width - 8, 20)])
    : scaleLog()
        .domain([span[0] / pad, span[1] * pad])
        .range([8, Math.max(width - 8, 20)]);
  return (
    <li
      className="py-3 grid grid-cols-[250px_minmax(0,1fr)_210px] gap-5 items-center max-sm:grid-cols-1 max-sm:gap-1"
      aria-label={`${one.title}, ${one.called}`}
    >
      <div>
        <b className="font-semibold">{one.title}</b>
        <span className="label">
          {one.called}, {one.of}
        </span>
      </div>
      <div ref={box} className="min-w-0">
        <svg
          width={width}
          height="46"
          className="block text-[12px]"
          role="img"
          aria-label={`${say(one.value)}, between ${say(one.low)} and ${say(one.high)}; typical ${say(one.typical)}; ${one.runs.length} runs`}
        >
          <rect
            x={x(one.low)}
            y="12"
            width={Math.max(x(one.high) - x(one.low), 2)}
            height="16"
            className="fill-spruce-soft stroke-spruce"
          />
          <path d={`M${x(one.typical)} 6v28`} className="stroke-slate" strokeDasharray="3 2" />
          <text x={x(one.typical)} y="44" textAnchor="middle" className="fill-slate">
            typical
          </text>
          <path d={`M${x(one.value)} 9v22`} className="stroke-spruce" strokeWidth="3" />
          {one.runs.map((run) =>
            run.aside ? (
              <path
                key={run.run_id}
                d={`M${x(run.value) - 4} 16l8 8M${x(run.value) + 4} 16l-8 8`}
                className="stroke-rust"
                strokeWidth="1.5"
              />
            ) : (
              <circle key={run.run_id} cx={x(run.value)} cy="20" r="3" className="fill-ink" opacity="0.75" />
            ),
          )}
        </svg>
        {one.left_out.map((words) => (
          <p key={words} className="text-[12px] text-rust">
            Left out: {words}.
          </p>
        ))}
      </div>
      <div className="text-[13px]">
        <b className="text-[19px] font-semibold tabular-nums">{say(one.value)}</b>{" "}
        <span className="text-slate">
          {say(one.low)} to {say(one.high)}
        </span>
        <span className="block">
          {one.runs.length} {one.runs.length === 1 ? "run" : "runs"}; single runs vary by{" "}
          {one.is_share ? `${(100 * one.spread).toFixed(1)} points` : `${(100 * one.spread).toFixed(0)} %`}.{" "}
          <b className={one.used ? "text-spruce font-semibold" : "font-medium"}>
            {one.used
              ? one.goes === "plan"
                ? "Used by the next plans."
                : "Offered to pieces where nothing was measured."
              : one.goes === "shown" && !one.is_set_aside
                ? `Shown, not put in: ${one.why_not}.`
                : `Not used: ${one.why_not}.`}
          </b>
        </span>
        <button className="quiet" onClick={onPut}>
          {one.is_set_aside ? "Use it again" : "Do not use this"}
        </button>
        <details>
          <summary className="quiet">its runs</summary>
          <ul>
            {one.runs.map((run) => (
              <li key={run.run_id}>
                <Link className="quiet" to={`/logbook/${run.run_id}`}>
                  run {run.run_id}
                </Link>{" "}
                {run.says}
                {run.aside ? <b className="text-rust font-medium"> (says nothing: too far off)</b> : null}
              </li>
            ))}
          </ul>
        </details>
      </div>
    </li>
  );
}

/** How far each value was missed before it was known, with typical values and with learned ones. */
function Getting({ points }: { points: Schemas["Foretold"][] }) {
  const [box, width] = useWidth<HTMLDivElement>();
  const most = Math.max(...points.map((one) => Math.max(one.off_typical, one.off_learned)), 0.1);
  const x = scaleLinear()
    .domain([0, Math.max(points.length - 1, 1)])
    .range([44, Math.max(width - 12, 60)]);
  const y = scaleLinear().domain([0, most]).range([130, 10]).nice();
  return (
    <section className="mt-6" aria-label="Is it getting better?">
      <h2>Is it getting better?</h2>
      <div ref={box}>
        <svg
          width={width}
          height="156"
          className="block text-[12px]"
          role="img"
          aria-label={`Misses of ${points.length} values foretold, oldest first`}
        >
          {y.ticks(4).map((tick) => (
            <g key={tick}>
              <path d={`M44 ${y(tick)}H${width - 12}`} className="stroke-line" />
              <text x="40" y={y(tick) + 4} textAnchor="end">
                {Math.round(tick * 100)} %
              </text>
            </g>
          ))}
          {points.map((one, index) => (
            <g key={index}>
              <path
                d={`M${x(index)} ${y(one.off_typical)}V${y(one.off_learned)}`}
                className="stroke-slate"
                strokeWidth="0.8"
              />
              <circle
                cx={x(index)}
                cy={y(one.off_typical)}
                r="3.5"
                fill="none"
                className="stroke-slate"
                strokeWidth="1.5"
              />
              <circle cx={x(index)} cy={y(one.off_learned)} r="3.5" className="fill-spruce" />
            </g>
          ))}
          <text x="44" y="152">
            oldest
          </text>
          <text x={width - 12} y="152" textAnchor="end">
            newest
          </text>
        </svg>
      </div>
      <p className="text-[12px] text-slate">
        How far each value was missed before it was known. Ring: with the typical value. Dot: with what the
        runs before it had taught.
      </p>
    </section>
  );
}
