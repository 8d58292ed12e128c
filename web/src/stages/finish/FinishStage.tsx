/** Finish: when may I demould, sand, oil, hand over? What is wanted, and what was tested. */
import { Link } from "react-router";
import { useState } from "react";
import type { Schemas, Present } from "../../api/client";
import type { Piece } from "../../api/queries";
import { moment } from "../../domain/format";
import { Check } from "../../ui/Check";
import { Fig } from "../../ui/Fig";
import { QuantityField, TextField } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { Waiting } from "../../ui/states";
import { Verdicts } from "../../ui/Verdicts";
import { useSayInRun } from "../log/addRunEvent";
import { ChoiceField } from "../measure/ShapeFields";
import { Spread } from "../Spread";
import { FinishDrawing } from "./FinishDrawing";
import type { StageProps } from "../props";
import {
  EMPTY_FINISH,
  finishOf,
  INSIDE,
  MOULDS,
  STARTS,
  SURFACES,
  useFinish,
  type Finish,
  type Gate,
} from "./finish";

export function FinishStage({ stored, edits }: StageProps) {
  const { zone, units } = useUnits();
  const answer = useFinish(stored.id, stored.revision);
  const finish = finishOf(stored.piece);
  const set = (what: string, part: Partial<Finish>) =>
    edits.edit(what, (now: Piece) => ({ ...now, finish: { ...(now.finish ?? EMPTY_FINISH), ...part } }));
  if (!answer.data) return <Waiting error={answer.error} what="the finish" />;
  const { plan, run_id } = answer.data;
  return (
    <Spread
      question="Is it ready?"
      strip="none"
      sideFirst
      side={
        <>
          {plan.gates.length === 0 && plan.steps.length === 0 ? (
            <p className="mt-1 text-slate">
              Nothing is poured by the plan yet: measure, and choose a system first.
            </p>
          ) : null}
          {plan.gates.length && !run_id ? (
            <p className="mt-1 text-[13px] text-slate">
              Times below are from the plan.{" "}
              <Link className="quiet" to={`/pieces/${stored.id}/pour`}>
                Begin the run
              </Link>
              , and they count from what was really poured; then tests can be written down.
            </p>
          ) : null}
          <ul className="rule mt-1">
            {plan.gates.map((gate) => (
              <GateItem
                key={`${gate.code}${gate.pour}`}
                gate={gate}
                finish={plan}
                runId={run_id ?? null}
                zone={zone}
                many={new Set(plan.gates.map((one) => one.pour)).size > 1}
              />
            ))}
          </ul>
          <h2 className="mt-5">What surface?</h2>
          <div className="grid grid-cols-2 gap-2.5 mt-1">
            <ChoiceField
              choice={{ key: "surface", label: "wanted", options: SURFACES }}
              value={finish.surface ?? "not said"}
              onChoose={(surface) =>
                void set("surface wanted", { surface: surface as Present<Finish["surface"]> })
              }
            />
            <ChoiceField
              choice={{ key: "start", label: "as it is now", options: STARTS }}
              value={finish.start ?? "as poured"}
              onChoose={(start) => void set("surface as it is", { start: start as Present<Finish["start"]> })}
            />
            <ChoiceField
              choice={{
                key: "series",
                label: "papers are graded",
                options: [
                  ["P", "P (FEPA)"],
                  ["US", "US (CAMI)"],
                ],
              }}
              value={finish.series ?? "P"}
              onChoose={(series) => void set("papers", { series: series as Present<Finish["series"]> })}
            />
            <TextField
              label="Papers you have"
              value={(finish.papers ?? []).join(" ")}
              onCommit={(typed) =>
                set("papers there are", {
                  papers: typed
                    .split(/[^0-9]+/)
                    .filter(Boolean)
                    .map(Number),
                })
              }
            />
            {finish.start === "turned" ? (
              <QuantityField
                label="least wall to leave"
                kind="length"
                optional
                reading={finish.least_wall_m}
                pointer="/finish/least_wall_m"
                onCommit={(least_wall_m) => set("least wall", { least_wall_m })}
              />
            ) : null}
          </div>
          {finish.surface === "oil" || finish.surface === "varnish" ? (
            <EndingFields finish={finish} set={set} />
          ) : null}
          <Check
            className="items-center mt-2"
            checked={finish.painted_edges ?? false}
            onChange={(painted_edges) => set("painted edges", { painted_edges })}
          >
            its edges are painted
          </Check>
          <Check
            className="items-center"
            checked={finish.post_cure ?? false}
            onChange={(post_cure) => set("post-cure", { post_cure })}
          >
            post-cure in an oven (hot cups, hot sun)
          </Check>
          {finish.post_cure ? (
            <div className="grid grid-cols-2 gap-2.5">
              <QuantityField
                label="oven, at most"
                asks={units === "us"}
                kind="temperature"
                optional
                reading={finish.oven_c}
                pointer="/finish/oven_c"
                help="60 °C unless said"
                onCommit={(oven_c) => set("oven", { oven_c })}
              />
              <ChoiceField
                choice={{ key: "mould", label: "it lies in", options: MOULDS }}
                value={finish.mould ?? "none"}
                onChoose={(mould) =>
                  void set("mould in the oven", { mould: mould as Present<Finish["mould"]> })
                }
              />
              <fieldset className="col-span-2">
                <legend className="text-[13px] font-semibold">Inside it</legend>
                <div className="grid grid-cols-2">
                  {INSIDE.map((one) => (
                    <Check
                      key={one}
                      checked={(finish.inside ?? []).includes(one)}
                      onChange={(on) =>
                        set("what is inside", {
                          inside: on
                            ? [...(finish.inside ?? []), one]
                            : (finish.inside ?? []).filter((other) => other !== one),
                        })
                      }
                    >
                      {one}
                    </Check>
                  ))}
                </div>
              </fieldset>
            </div>
          ) : null}
          <Check
            className="items-center"
            checked={finish.sunny ?? false}
            onChange={(sunny) => set("place", { sunny })}
          >
            it will stand in the sun
          </Check>
          <TextField
            label="one more line for the care note"
            value={finish.note ?? ""}
            onCommit={(note) => set("care note", { note })}
          />
          <p className="mt-3 flex flex-wrap gap-4 items-center">
            <a
              className="key inline-grid content-center"
              href={`/api/v1/pieces/${stored.id}/care.pdf`}
              target="_blank"
              rel="noreferrer"
            >
              Care note to print
            </a>
            {plan.hand_over_at === null && plan.gates.length ? (
              <span className="text-[13px]">
                no date for handing over: one of its gates is never reached here
              </span>
            ) : null}
            {plan.hand_over_at ? (
              <span className="text-[13px]">hand over {moment(plan.hand_over_at, zone)} at the earliest</span>
            ) : null}
          </p>
          <Verdicts verdicts={plan.verdicts} />
        </>
      }
    >
      <FinishDrawing stored={stored} />
    </Spread>
  );
}

const GRADES = [40, 60, 80, 100, 120, 150, 180, 220, 240, 320, 400, 600, 800] as const;

/** Coats of an oil or a varnish, as the tin says; and the grit of the wood before it. */
function EndingFields({
  finish,
  set,
}: {
  finish: Finish;
  set: (what: string, part: Partial<Finish>) => Promise<void>;
}) {
  return (
    <div className="grid grid-cols-2 gap-2.5 mt-2">
      <ChoiceField
        choice={{
          key: "wood-grit",
          label: "wood sanded to, grit",
          options: [["", "not said"], ...GRADES.map((one): [string, string] => [String(one), String(one)])],
        }}
        value={finish.wood_grit ? String(finish.wood_grit) : ""}
        onChoose={(grit) =>
          void set("grit before oil", { wood_grit: grit ? (Number(grit) as (typeof GRADES)[number]) : null })
        }
      />
      <QuantityField
        label="coats of it"
        kind="count"
        optional
        help={finish.surface === "oil" ? "2 unless said" : "3 unless said"}
        reading={
          finish.ending_coats ? { value: finish.ending_coats, as_typed: String(finish.ending_coats) } : null
        }
        onCommit={(reading) => set("coats of the ending", { ending_coats: reading ? reading.value : null })}
      />
      <QuantityField
        label="stands before it is wiped off"
        kind="duration"
        optional
        reading={finish.stand_s}
        pointer="/finish/stand_s"
        help={finish.surface === "oil" ? "15 min unless the tin says otherwise" : "not wiped off unless said"}
        onCommit={(stand_s) => set("how long it stands", { stand_s })}
      />
      <QuantityField
        label="from coat to coat"
        kind="duration"
        optional
        reading={finish.between_s}
        pointer="/finish/between_s"
        help={finish.surface === "oil" ? "10 h unless said" : "a day unless said"}
        onCommit={(between_s) => set("between the coats", { between_s })}
      />
    </div>
  );
}

const WORDS = {
  passed: "passed",
  "not passed": "not passed",
  "not sure": "not sure",
  "not tested": "not tested",
  never: "not in this room",
};

function GateItem({
  gate,
  finish,
  runId,
  zone,
  many,
}: {
  gate: Gate;
  finish: Schemas["FinishPlan"];
  runId: number | null;
  zone: string;
  many: boolean;
}) {
  const say = useSayInRun(runId);
  const [problem, setProblem] = useState("");
  const { readiness } = gate;
  const tell = async (result: "passed" | "not passed" | "not sure") => {
    try {
      await say({ kind: "gate", gate: gate.code, pour: gate.pour, result });
      setProblem("");
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <li className="py-2.5" aria-label={`Gate: ${gate.title}`}>
      <p className="flex justify-between gap-2">
        <b className="font-semibold">
          {gate.title}
          {many ? <span className="font-normal text-slate"> (pour {gate.pour})</span> : null}
        </b>
        <span
          className={
            readiness.state === "passed"
              ? "text-spruce font-semibold"
              : readiness.state === "not tested"
                ? "text-slate"
                : "text-rust font-semibold"
          }
        >
          {WORDS[readiness.state]}
        </span>
      </p>
      {readiness.state === "passed" ? null : (
        <>
          <p className="text-[13px]">
            <b className="font-medium">{gate.test}:</b> {gate.passes}.
          </p>
          <p className="text-[13px] mt-0.5">
            {readiness.says.replace(
              "when it is worth it",
              gate.next_at ? `${moment(gate.next_at, zone)}` : "later",
            )}
            {gate.too_warm ? " It is still warm." : ""}
          </p>
          {gate.expected ? (
            <p className="text-[12px] text-slate">
              By the model after <Fig figure={gate.expected} plan={finish} />
              {gate.chance ? (
                <>
                  ; chance then <Fig figure={gate.chance} plan={finish} />
                </>
              ) : null}
              . Rests on {gate.rests_on}.
            </p>
          ) : null}
          {gate.poured_at ? (
            <p className="flex flex-wrap gap-x-4 mt-1">
              <button
                className="quiet"
                onClick={() => void tell("passed")}
                aria-label={`${gate.title}: passed`}
              >
                Passed
              </button>
              <button
                className="quiet"
                onClick={() => void tell("not passed")}
                aria-label={`${gate.title}: not passed`}
              >
                Not passed
              </button>
              <button
                className="quiet"
                onClick={() => void tell("not sure")}
                aria-label={`${gate.title}: not sure`}
              >
                Not sure
              </button>
            </p>
          ) : null}
        </>
      )}
      {problem ? (
        <p role="alert" className="text-rust">
          {problem}
        </p>
      ) : null}
    </li>
  );
}
