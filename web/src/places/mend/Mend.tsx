/** Mend: what is seen, two or three questions, what it comes from by this very record, and the way back as
 *  a plan. */
import { diagnose, listRuns, readMendTable } from "../../api/operations.generated";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { usePieces } from "../../api/queries";
import { date } from "../../domain/format";
import { TroubleSketch } from "../../drawing/TroubleSketch";
import { useUnits } from "../../ui/session";
import { Waiting } from "../../ui/states";
import { WayBack, type Given } from "./WayBack";

type Trouble = Schemas["TroubleRow"];

export function Mend() {
  const [params, setParams] = useSearchParams();
  const table = useQuery({
    queryKey: ["mend"],
    queryFn: () => readMendTable(),
    staleTime: Infinity,
  });
  const trouble = table.data?.troubles.find((one) => one.code === params.get("trouble"));
  // all of a choice in one call: two in a row would both begin from the address before the first
  const set = (asked: Record<string, string | null>) =>
    setParams((now) => {
      const next = new URLSearchParams(now);
      for (const [key, value] of Object.entries(asked)) {
        if (value) next.set(key, value);
        else next.delete(key);
      }
      return next;
    });
  if (!table.data) return <Waiting error={table.error} what="Mend" />;
  return (
    <div className="px-7 py-5 max-w-[1120px] max-sm:px-3">
      <h1 className="text-[30px]">Mend</h1>
      <Of params={params} set={set} />
      {trouble ? (
        <Case
          key={trouble.code}
          trouble={trouble}
          runId={Number(params.get("run")) || null}
          pieceId={Number(params.get("piece")) || null}
          onOther={() => set({ trouble: null })}
        />
      ) : (
        <>
          <p className="mt-3 text-[16px]">What do you see?</p>
          <ul
            className="grid grid-cols-[repeat(auto-fill,minmax(230px,1fr))] gap-x-6 gap-y-2 mt-2"
            aria-label="Troubles"
          >
            {table.data.troubles.map((one) => (
              <li key={one.code}>
                <button
                  className="grid grid-cols-[96px_1fr] gap-3 items-center text-left w-full py-1 hover:bg-raised"
                  onClick={() => set({ trouble: one.code })}
                >
                  <TroubleSketch code={one.code} />
                  <span>
                    <b className="font-semibold block leading-tight">{one.title}</b>
                    <span className="text-[13px] text-slate leading-tight">{one.look}</span>
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

/** Which piece and run it is about: the record then speaks too. */
function Of({
  params,
  set,
}: {
  params: URLSearchParams;
  set: (asked: Record<string, string | null>) => void;
}) {
  const { zone } = useUnits();
  const pieces = usePieces("", 0);
  const piece = params.get("piece");
  const runs = useQuery({
    queryKey: ["runs", "of", Number(piece)],
    queryFn: async () => (await listRuns({ piece_id: Number(piece), only_open: false })).runs,
    enabled: !!piece,
  });
  const real = (runs.data ?? []).filter((one) => !one.is_rehearsal);
  const run = params.get("run");
  const first = real[0]?.id;
  useEffect(() => {
    if (piece && !run && first) set({ run: String(first) });
  }, [piece, run, first]); // eslint-disable-line
  return (
    <div className="flex flex-wrap gap-3 items-end mt-1 text-[13px]">
      <label className="text-slate">
        of which piece
        <select
          className="box"
          value={piece ?? ""}
          onChange={(event) => set({ run: null, piece: event.target.value || null })}
        >
          <option value="">none of these</option>
          {(pieces.data?.pieces ?? []).map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </select>
      </label>
      {piece ? (
        <label className="text-slate">
          its run
          <select
            className="box"
            value={run ?? ""}
            onChange={(event) => set({ run: event.target.value || null })}
          >
            <option value="">no record of it</option>
            {real.map((one) => (
              <option key={one.id} value={one.id}>
                {date(one.begun_at, zone)}
                {one.ended_at ? "" : ", still open"}
              </option>
            ))}
          </select>
        </label>
      ) : null}
    </div>
  );
}

function Case({
  trouble,
  runId,
  pieceId,
  onOther,
}: {
  trouble: Trouble;
  runId: number | null;
  pieceId: number | null;
  onOther: () => void;
}) {
  const [answers, setAnswers] = useState<Record<string, string>>({});
  const [facts, setFacts] = useState<string[]>([]);
  // what is said against a record belongs to that record; what is seen and measured stays when it arrives late
  const [denied, setDenied] = useState<{ runId: number | null; facts: string[] }>({ runId, facts: [] });
  const notSo = denied.runId === runId ? denied.facts : [];
  const [cause, setCause] = useState("");
  const [given, setGiven] = useState<Given>({});
  const body = { trouble: trouble.code, answers, facts, not_so: notSo, run_id: runId };
  const found = useQuery({
    queryKey: ["diagnose", body],
    queryFn: () => diagnose(body),
    placeholderData: keepPreviousData,
  });
  const answer = found.data;
  const shown = new Set((answer?.shown ?? []).map((one) => one.fact));
  const chosen = answer?.ranked.find((one) => one.cause === cause) ?? answer?.ranked[0];
  const head = (
    <div className="flex flex-wrap gap-4 items-center mt-3">
      <TroubleSketch code={trouble.code} />
      <div>
        <h2 className="text-[24px]">{trouble.title}</h2>
        <button className="quiet" onClick={onOther}>
          something else is seen
        </button>
      </div>
    </div>
  );
  if (found.isPending)
    return (
      <>
        {head}
        <Waiting error={null} what="the causes" />
      </>
    );
  return (
    <>
      {head}
      {answer?.now.length ? (
        <section role="alert" className="mt-3 border-2 border-rust p-3 max-w-[70ch]">
          <h2>Now, while it is wet</h2>
          <ol className="list-decimal pl-5 text-[16px]">
            {answer.now.map((one) => (
              <li key={one}>{one}</li>
            ))}
          </ol>
        </section>
      ) : null}
      <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1.2fr)] gap-10 mt-3 max-lg:grid-cols-1 max-lg:gap-4">
        <div>
          {trouble.questions.map((one) => (
            <fieldset key={one.code} className="mt-2">
              <legend className="font-semibold">{one.ask}</legend>
              <div className="flex flex-wrap gap-x-5">
                {one.answers.map((option) => (
                  <label key={option.code} className="flex gap-2 items-center min-h-8">
                    <input
                      type="radio"
                      name={one.code}
                      checked={answers[one.code] === option.code}
                      onChange={() => setAnswers((now) => ({ ...now, [one.code]: option.code }))}
                    />
                    {option.words}
                  </label>
                ))}
                <label className="flex gap-2 items-center min-h-8 text-slate">
                  <input
                    type="radio"
                    name={one.code}
                    checked={!answers[one.code]}
                    onChange={() =>
                      setAnswers((now) =>
                        Object.fromEntries(Object.entries(now).filter(([code]) => code !== one.code)),
                      )
                    }
                  />
                  cannot say
                </label>
              </div>
            </fieldset>
          ))}
          {answer?.shown.length ? (
            <fieldset className="mt-4">
              <legend className="font-semibold">The record shows</legend>
              {answer.shown.map((one) => (
                <label key={one.fact} className="flex gap-2 items-start min-h-8 pt-1">
                  <input
                    type="checkbox"
                    className="mt-1"
                    checked={!notSo.includes(one.fact)}
                    onChange={(event) =>
                      setDenied({
                        runId,
                        facts: event.target.checked
                          ? notSo.filter((fact) => fact !== one.fact)
                          : [...notSo, one.fact],
                      })
                    }
                  />
                  <span>
                    {wordsOf(trouble, one.fact)} <span className="text-slate text-[13px]">{one.says}</span>
                  </span>
                </label>
              ))}
            </fieldset>
          ) : runId ? (
            <p className="mt-4 text-slate">The record shows nothing that suggests a cause.</p>
          ) : null}
          <fieldset className="mt-4">
            <legend className="font-semibold">What else do you know?</legend>
            {trouble.facts
              .filter((one) => !shown.has(one.code))
              .map((one) => (
                <label key={one.code} className="flex gap-2 items-start min-h-8 pt-1">
                  <input
                    type="checkbox"
                    className="mt-1"
                    checked={facts.includes(one.code)}
                    onChange={(event) =>
                      setFacts((now) =>
                        event.target.checked ? [...now, one.code] : now.filter((fact) => fact !== one.code),
                      )
                    }
                  />
                  {one.words}
                </label>
              ))}
          </fieldset>
        </div>
        <div>
          <h2>What it comes from</h2>
          {found.error ? (
            <p role="alert" className="text-rust">
              {found.error.message}
            </p>
          ) : null}
          <ol className="rule mt-1" aria-label="Causes">
            {(answer?.ranked ?? []).slice(0, 5).map((one) => (
              <li key={one.cause} className="py-2">
                <button
                  className="w-full text-left grid grid-cols-[1fr_auto] gap-3"
                  aria-pressed={chosen?.cause === one.cause}
                  onClick={() => setCause(one.cause)}
                >
                  <span>
                    <b
                      className={
                        chosen?.cause === one.cause
                          ? "font-semibold border-b-2 border-spruce"
                          : "font-semibold"
                      }
                    >
                      {one.title}
                    </b>
                    <span className="text-[13px]">. {one.why}</span>
                  </span>
                  <span className="tabular-nums font-semibold">{Math.round(one.share * 100)} %</span>
                </button>
                <div className="h-1.5 bg-line mt-1">
                  <div className="h-full bg-spruce" style={{ width: `${one.share * 100}%` }} />
                </div>
                {one.evidence.length ? (
                  <p className="text-[12px] text-slate mt-1">
                    {one.evidence
                      .map((e) => `${e.times >= 1 ? "for" : "against"}: ${e.says} (×${e.times.toFixed(1)})`)
                      .join("; ")}
                  </p>
                ) : null}
              </li>
            ))}
          </ol>
          <p className="text-[12px] text-slate">
            Rests on {answer?.rests_on}. Shares weigh what is known (common practice, no source); they are no
            frequencies.
          </p>
          {answer && chosen ? (
            <WayBack
              key={chosen.cause}
              ways={[chosen.back, ...(chosen.schools ?? [])].map((code) =>
                answer.ways.find((one) => one.code === code)!,
              )}
              cause={chosen}
              trouble={trouble.code}
              pieceId={pieceId}
              runId={runId}
              filmM={answer.film_m}
              given={given}
              onGive={(key, reading) => setGiven((now) => ({ ...now, [key]: reading }))}
            />
          ) : null}
          {pieceId ? null : (
            <p className="mt-2 text-[13px] text-slate">
              To plan the way back with amounts, say which piece it is; or{" "}
              <Link className="quiet" to="/new">
                begin one
              </Link>
              .
            </p>
          )}
        </div>
      </div>
    </>
  );
}

function wordsOf(trouble: Trouble, fact: string): string {
  return trouble.facts.find((one) => one.code === fact)?.words ?? fact.replace(/-/g, " ");
}
