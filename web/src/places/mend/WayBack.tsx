/** The way back from one cause: its steps, and planning it with amounts and windows as a piece of its own. */
import { planMending } from "../../api/operations.generated";
import { useState } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { useEverythingAnew } from "../../api/queries";
import { text } from "../../domain/format";
import { useSayInRun } from "../../stages/log/addRunEvent";
import { QuantityField, type Reading } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { useAttempts } from "../../ui/useAttempts";

export type Given = Record<string, Reading | null>;

interface Props {
  /** The default first; the others are schools. */
  ways: Schemas["WayAnswer"][];
  cause: Schemas["Ranked"];
  trouble: string;
  pieceId: number | null;
  runId: number | null;
  /** Of a new coat unless said. */
  filmM: number;
  /** Amounts as they were given: kept above, for another cause may come first while they are typed. */
  given: Given;
  onGive: (key: string, reading: Reading | null) => void;
}

export function WayBack({ ways, cause, trouble, pieceId, runId, filmM, given, onGive }: Props) {
  const { units } = useUnits();
  const [school, setSchool] = useState(0);
  const way = ways[school]!;
  const { told, problem, attempt } = useAttempts();
  const navigate = useNavigate();
  const anew = useEverythingAnew();
  const say = useSayInRun(runId);
  const plan = () =>
    attempt(async () => {
      if (pieceId === null) return;
      if (runId) await say({ kind: "trouble", code: trouble, cause: cause.cause, back: way.code });
      const made = await planMending(pieceId, {
        trouble,
        cause: cause.cause,
        back: way.code,
        run_id: runId,
        ...given,
      });
      await anew();
      navigate(`/pieces/${made.piece_id}/${made.needs_system ? "resin" : way.resin ? "layers" : "survey"}`);
    });
  const field = (key: string, label: string, kind: string, help: string) => (
    <QuantityField
      label={label}
      kind={kind}
      optional={key === "film_m" || key === "area_m2"}
      reading={given[key]}
      pointer={`/${key}`}
      help={help}
      onCommit={(reading) => onGive(key, reading)}
    />
  );
  return (
    <section className="mt-5" aria-label="The way back">
      <h2>The way back: {way.title.toLowerCase()}</h2>
      {ways.length > 1 ? (
        <div role="radiogroup" aria-label="Schools" className="flex flex-wrap gap-x-5">
          {ways.map((one, index) => (
            <label key={one.code} className="flex gap-2 items-center min-h-8">
              <input
                type="radio"
                name="school"
                checked={index === school}
                onChange={() => setSchool(index)}
              />
              {one.title}
              {index ? <span className="text-slate text-[13px]">(a school)</span> : null}
            </label>
          ))}
        </div>
      ) : null}
      <p className="font-medium">{way.honest}</p>
      {way.steps.length ? (
        <ol className="list-decimal pl-5 mt-1">
          {way.steps.map((step) => (
            <li key={step.code} className="py-1">
              <b className="font-semibold">{step.title}.</b> {step.text}{" "}
              <span className="text-slate">
                {step.why}
                {step.wait_s ? ` Then ${text(step.wait_s, "duration", units)} at least.` : ""}
              </span>
              {step.caution ? <span className="block text-rust text-[13px]">{step.caution}</span> : null}
            </li>
          ))}
          {way.resin ? (
            <li className="py-1">
              <b className="font-semibold">{way.resin === "coat" ? "A new coat over all." : "Fill it."}</b>{" "}
              Planned like any other: batches, windows, tests.
            </li>
          ) : null}
        </ol>
      ) : null}
      <p className="mt-1">
        <b className="font-semibold">Next time:</b> {cause.next_time}
      </p>
      {pieceId && (way.steps.length || way.resin) ? (
        <div className="mt-3 grid gap-2 max-w-[460px]">
          {way.resin === "coat" ? (
            <div className="grid grid-cols-2 gap-3">
              {field(
                "area_m2",
                "whole surface to coat",
                "area",
                "like 0.3 m2, or 3 sq ft; empty: as its own coat",
              )}
              {field("film_m", "film", "length", `${text(filmM, "length", units)} unless said`)}
            </div>
          ) : null}
          {way.resin === "fill" ? (
            <div className="grid grid-cols-2 gap-3">
              {field("volume_m3", "to fill, in all", "volume", "water from a syringe tells")}
              {field("depth_m", "deepest", "length", "")}
            </div>
          ) : null}
          <p>
            <button className="key" onClick={() => void plan()}>
              Plan the way back
            </button>
          </p>
        </div>
      ) : null}
      {runId ? (
        <p className="mt-1">
          <button
            className="quiet"
            onClick={() =>
              void attempt(async () => {
                await say({ kind: "trouble", code: trouble, cause: cause.cause, back: way.code });
                return "It stands in the record.";
              })
            }
          >
            Only write it into the record
          </button>{" "}
          <span role="status" className="text-spruce">
            {told}
          </span>
        </p>
      ) : null}
      {problem ? (
        <p role="alert" className="text-rust">
          {problem}
        </p>
      ) : null}
    </section>
  );
}
