/** The bench's own view of one batch: what to pour now, how far it is, what to do about too much. Large, by
 *  knuckle, no typing. */
import { useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import type { Schemas } from "../../../api/client";
import { Shape } from "../../../ui/Verdicts";
import { Waiting } from "../../../ui/states";
import { minutes } from "../minutes";
import { AnyAmount } from "../AnyAmount";
import { Bar } from "./Bar";
import { Bottles } from "./Bottles";
import { NumberPad } from "./NumberPad";
import { Done } from "./Done";
import { RightBottle } from "./RightBottle";
import { StandIn } from "./StandIn";
import { useWeighing, type Weighing } from "./useWeighing";
import { useLatest } from "../../../ui/useLatest";

type Step = Schemas["WeighStep"];
const SETTLED_MS = 900;

export function Weigh() {
  const params = useParams();
  const [pieceId, pour, batch] = [Number(params.id), Number(params.pour), Number(params.batch)];
  const at = useWeighing(pieceId, pour, batch);
  if (!at.weighing) return <Waiting error={at.error} what="the batch" />;
  if (at.weighing.state.ended) return <Done weighing={at.weighing} />;
  return <AtTheScale {...at} weighing={at.weighing} pieceId={pieceId} />;
}

const FOOT =
  "sticky bottom-0 bg-paper border-t border-ink px-6 max-sm:px-3 py-3 flex items-end gap-4 " +
  "max-lg:grid max-lg:grid-cols-3 max-lg:gap-2";

function AtTheScale({
  weighing,
  isLost,
  waiting,
  isWeightWaiting,
  problem,
  enter,
  pieceId,
}: ReturnType<typeof useWeighing> & { weighing: Weighing; pieceId: number }) {
  const { task, state, live } = weighing;
  const navigate = useNavigate();
  const [panel, setPanel] = useState<"" | "hand" | "bottle" | "cup" | "end">("");
  const [next, setNext] = useState<{ bottle_id: number; lot: string } | null>(null);
  const step: Step | null = typeof state.current === "number" ? state.steps[state.current]! : null;
  const take = (massKg: number, by: "scale" | "hand", asTyped = "") =>
    step &&
    enter({
      kind: "taken",
      step: step.key,
      mass_kg: massKg,
      by,
      gross_kg: by === "scale" ? (live.gross_kg ?? null) : null,
      as_typed: asTyped,
    });
  const zero = () => enter({ kind: "zero", gross_kg: live.gross_kg ?? 0 });
  useTakesItself(weighing, waiting === 0 && !panel, () => take(live.net_kg ?? 0, "scale"));

  const choose = (bottle_id: number, lot: string) => {
    if (!step) return;
    const from = { kind: "bottle", step: step.key, bottle_id, lot } as const;
    if (typeof step.bottle_id !== "number" || step.bottle_id === bottle_id) enter(from);
    else if (live.connected) enter({ ...from, so_far_kg: Math.max(step.taken_kg + (live.net_kg ?? 0), 0) });
    else setNext({ bottle_id, lot });
  };
  const takeOut = () =>
    enter({
      kind: "taken",
      step: live.taken_out ?? "",
      mass_kg: live.net_kg ?? 0,
      by: "scale",
      gross_kg: live.gross_kg ?? null,
      as_typed: "",
    });
  // The weight before decides whose part the next one is. A key tapped in that moment is not lost: what it opens waits
  // for it, but not for a server that does not answer.
  const canType = !!step && !(isWeightWaiting && isLost);
  const isTyping = panel === "hand" && !isWeightWaiting;
  useEffect(() => {
    if (isWeightWaiting && isLost) setPanel((now) => (now === "hand" ? "" : now));
  }, [isWeightWaiting, isLost]);
  const canTake = !isWeightWaiting && !!live.can_take;
  const [label, act, isReady]: [string, () => void, boolean] = !step
    ? ["It is mixed: keep the record", () => setPanel("end"), true]
    : live.tone === "no zero"
      ? ["Cup is on: count from here", zero, !isWeightWaiting]
      : live.tone === "tared"
        ? ["It was tared: count from here", zero, !isWeightWaiting]
        : live.tone === "taken out"
          ? ["That much was taken out", takeOut, canTake]
          : live.connected
            ? ["Record this weight", () => take(live.net_kg ?? 0, "scale"), canTake]
            : ["Type what the scale shows", () => setPanel("hand"), canType];
  useKeys(isReady && !panel ? act : null, state.can_undo && !panel ? () => enter({ kind: "undo" }) : null);

  return (
    <main className="bench-mode min-h-dvh flex flex-col" data-tone={live.tone}>
      <header className="flex flex-wrap items-center gap-x-6 px-6 max-sm:px-3 border-b border-ink min-h-[64px]">
        <Link to={`/pieces/${weighing.piece_id}/mix`} className="big-quiet">
          ‹ Leave
        </Link>
        <h1 className="text-[22px]">{task.piece}</h1>
        <p className="text-[17px] text-slate">
          {task.pour}, batch {task.batch} of {task.batches} · {task.system}
        </p>
        <button className="big-quiet ml-auto" onClick={() => setPanel("end")}>
          Give up this batch
        </button>
        <p className="text-[17px] text-slate" aria-live="polite">
          {isLost
            ? `No connection: ${waiting ? `${waiting} kept here, sent later` : "trying again"}`
            : live.device || "no scale"}
        </p>
      </header>
      <div className="grow grid grid-cols-[minmax(0,1fr)_360px] max-lg:grid-cols-1 gap-x-8 px-6 max-sm:px-3 py-3">
        <section aria-label="Now" className="min-w-0">
          <p className="text-[34px] max-sm:text-[26px] font-semibold leading-tight">
            {title(step, weighing)}
          </p>
          {step ? <Figure step={step} weighing={weighing} /> : <AllIn weighing={weighing} />}
          {step ? <Bar step={step} live={live} /> : null}
          <p
            role="status"
            className={`mt-3 text-[26px] max-sm:text-[20px] font-semibold ${live.tone === "too much" || live.tone === "lifted" ? "text-rust" : live.tone === "on it" ? "text-spruce" : ""}`}
          >
            {step && live.connected ? live.says : ""}
          </p>
          {step && !live.connected ? (
            <p className="text-[20px] text-rust font-semibold">{live.says}</p>
          ) : null}
          {problem ? (
            <p role="alert" className="mt-2 text-[20px] text-rust font-semibold">
              {problem}
            </p>
          ) : null}
          <ul aria-label="What it says">
            {[...state.verdicts, ...(live.verdicts ?? [])].map((verdict) => (
              <li
                key={verdict.code}
                className="mt-2 grid grid-cols-[24px_1fr] gap-3 text-[19px] max-sm:text-[17px]"
              >
                <span className="pt-1">
                  <Shape weight={verdict.weight} />
                </span>
                <span>
                  <b>{verdict.title}.</b> {verdict.text} <b className="font-semibold">{verdict.todo}</b>
                </span>
              </li>
            ))}
          </ul>
          {step ? <Bottles step={step} systemId={task.system_id} onChoose={choose} /> : null}
          <AnyAmount systemId={task.system_id} pieceId={pieceId} isLarge />
        </section>
        <Steps weighing={weighing} />
      </div>
      {live.stand_in ? <StandIn remainingKg={step ? step.remaining_kg - (live.net_kg ?? 0) : 0} /> : null}
      {/* No key moves away under a knuckle on its way down: what comes and goes stands behind those that stay, on a
          narrow screen above them; and nothing stands below, so that it is always the bottom of the screen. */}
      <footer className={FOOT}>
        <button
          className="big-quiet shrink-0"
          disabled={!state.can_undo}
          onClick={() => enter({ kind: "undo" })}
        >
          Undo the last
        </button>
        <button className="big-quiet shrink-0" disabled={!canType} onClick={() => setPanel("hand")}>
          Type weight
        </button>
        <button
          className="big-quiet shrink-0"
          disabled={step?.kind !== "part"}
          onClick={() => setPanel("bottle")}
        >
          Right bottle?
        </button>
        <div className="flex gap-4 max-lg:order-first max-lg:col-span-3 max-lg:flex-wrap empty:hidden">
          {state.too_full ? (
            <button className="big-quiet" onClick={() => setPanel("cup")}>
              It is in a larger cup now
            </button>
          ) : null}
          {step?.kind === "part" && state.steps[0]!.taken_kg > 0 && state.steps[1]!.taken_kg > 0 ? (
            <button className="big-quiet" onClick={() => enter({ kind: "accept" })}>
              Keep the wrong ratio
            </button>
          ) : null}
        </div>
        <button
          className="big-key ml-auto shrink-0 max-lg:ml-0 max-lg:col-span-3"
          disabled={!isReady}
          onClick={act}
        >
          {label}
        </button>
      </footer>
      {isTyping && step ? (
        <NumberPad
          title={`What the scale shows for ${step.name}`}
          onClose={() => setPanel("")}
          onTake={(kg, typed) => {
            take(kg, "hand", typed);
            setPanel("");
          }}
        />
      ) : null}
      {next && step ? (
        <NumberPad
          title={`How much of ${step.name} is in the cup by now, from the bottle before?`}
          mayBeNothing
          onClose={() => setNext(null)}
          onTake={(so_far_kg) => {
            enter({ kind: "bottle", step: step.key, ...next, so_far_kg });
            setNext(null);
          }}
        />
      ) : null}
      {panel === "cup" ? (
        <NumberPad
          title="How much does the larger cup hold, to its brim?"
          kind="volume"
          onClose={() => setPanel("")}
          onTake={(cup_m3) => {
            enter({ kind: "cup", cup_m3 });
            setPanel("");
          }}
        />
      ) : null}
      {panel === "bottle" && step ? (
        <RightBottle
          weighing={weighing}
          step={step}
          onChoose={(bottleId, lot) => {
            setPanel("");
            choose(bottleId, lot);
          }}
          onClose={() => setPanel("")}
        />
      ) : null}
      {panel === "end" ? (
        <div
          role="dialog"
          aria-label="End of the batch"
          className="fixed inset-0 z-50 bg-paper grid place-content-center gap-8 p-6 text-[24px] text-center"
        >
          <p className="max-w-[30ch]">
            {step
              ? "Give this batch up? What was weighed stays in the record."
              : "Stirred, scraped, and all of it in?"}
          </p>
          <div className="flex gap-24 max-sm:gap-8 justify-center flex-wrap">
            <button className="big-quiet" onClick={() => setPanel("")}>
              Not yet
            </button>
            <button
              className="big-key"
              onClick={() => {
                enter({ kind: "end", how: step ? "given up" : "mixed" });
                setPanel("");
                if (step) navigate(`/pieces/${weighing.piece_id}/mix`);
              }}
            >
              {step ? "Give it up" : "Yes, it is mixed"}
            </button>
          </div>
        </div>
      ) : null}
    </main>
  );
}

function title(step: Step | null, { state }: Weighing): string {
  if (!step) return "All of it is in.";
  const more =
    step.taken_kg > 0 && step.kind === "part"
      ? "Add "
      : step.kind === "part"
        ? state.current === 1
          ? "Then pour "
          : "Pour "
        : "Add ";
  const drops = step.drops ? `, about ${step.drops} drops` : "";
  return `${more}${step.kind === "colourant" ? step.name : `${step.name} (${step.key === "A" ? "resin" : "hardener"})`}${step.cup ? ` into the ${step.cup} cup` : ""}${drops}`;
}

/** The figure on the scale since this step began, beside what is wanted. Always grams: that is what a bench
 *  scale shows. */
function Figure({ step, weighing: { live } }: { step: Step; weighing: Weighing }) {
  const net = live.connected ? live.net_kg : null;
  if (!live.connected) {
    return (
      <p
        className="flex items-baseline flex-wrap gap-x-6 tabular-nums"
        aria-label={`${grams(step.remaining_kg)} grams wanted, read your own scale`}
      >
        <span data-figure="weighing" className="font-semibold leading-[1.02] text-[150px] max-sm:text-[97px]">
          {grams(step.remaining_kg)}
        </span>
        <span className="text-[26px] max-sm:text-[20px]">g wanted: read your own scale</span>
        <Near step={step} />
      </p>
    );
  }
  if (live.connected && typeof net !== "number" && typeof live.gross_kg === "number") {
    return (
      <p className="flex items-baseline flex-wrap gap-x-6 tabular-nums text-slate">
        <span data-figure="weighing" className="font-semibold leading-[1.02] text-[150px] max-sm:text-[97px]">
          {grams(live.gross_kg)}
        </span>
        <span className="text-[26px] max-sm:text-[20px]">
          g on the scale, not counted yet · {grams(step.remaining_kg)} g wanted
        </span>
        <Near step={step} />
      </p>
    );
  }
  return (
    <p
      className="flex items-baseline flex-wrap gap-x-6 tabular-nums"
      aria-label={`${typeof net === "number" ? grams(net) : "no reading"} of ${grams(step.remaining_kg)} grams`}
    >
      <span data-figure="weighing" className="font-semibold leading-[1.02] text-[150px] max-sm:text-[97px]">
        {typeof net === "number" ? grams(net) : "?"}
      </span>
      <span className="text-[40px] max-sm:text-[28px]">
        of <b className="font-semibold">{grams(step.remaining_kg)}</b> g
      </span>
      <Near step={step} />
    </p>
  );
}

function Near({ step }: { step: Step }) {
  return (
    <span className="text-[19px] text-slate">
      ± {grams(step.close_kg)} g is close enough
      {step.taken_kg > 0 ? ` · ${grams(step.taken_kg)} g are in` : ""}
    </span>
  );
}

function AllIn({ weighing: { task, state } }: { weighing: Weighing }) {
  const off = typeof state.off === "number" ? Math.abs(state.off) : 0;
  return (
    <div className="text-[24px] max-sm:text-[19px] mt-3 grid gap-2">
      <p
        data-figure="weighing"
        className="text-[100px] max-sm:text-[97px] leading-[1.02] font-semibold tabular-nums"
      >
        {grams(state.mass_a_kg + state.mass_b_kg)} g
      </p>
      <p>
        A {grams(state.mass_a_kg)} and B {grams(state.mass_b_kg)}:{" "}
        {off < 0.0005 ? "exactly in ratio" : `off the ratio by ${(100 * off).toFixed(1)} %`}. The cup is{" "}
        {Math.round(100 * state.cup_fill)} % full.
      </p>
      <p>
        Stir {minutes(task.stir_s)}, scrape walls, bottom and stick.
        {task.stir_again_s
          ? ` Into a clean cup, with a clean stick: stir ${minutes(task.stir_again_s)} more.`
          : ""}{" "}
        {task.rest_s ? `Rest ${minutes(task.rest_s)}.` : "No rest."} Poured out within{" "}
        {minutes(task.pour_within_s)} of the end of stirring{task.rest_s ? ", rest included" : ""}.
      </p>
    </div>
  );
}

function Steps({ weighing: { task, state } }: { weighing: Weighing }) {
  return (
    <ol aria-label="This batch" className="rule self-start max-lg:mt-6">
      {state.steps.map((step, index) => (
        <li
          key={step.key}
          aria-current={index === state.current ? "step" : undefined}
          className={`grid grid-cols-[30px_1fr_auto] items-center gap-2 min-h-[64px] text-[19px] ${index === state.current ? "border-l-8 border-spruce pl-3 font-semibold" : "pl-5"}`}
        >
          <span role="img" aria-label={step.done ? "in" : index === state.current ? "now" : "later"}>
            {step.done ? "✓" : index === state.current ? "▸" : "·"}
          </span>
          <span>
            {step.kind === "part" ? `Part ${step.key}` : step.name}
            {step.cup ? <span className="text-[16px] text-slate block">{step.cup}</span> : null}
            {step.lot ? <span className="text-[16px] text-slate block">lot {step.lot}</span> : null}
          </span>
          <span className="tabular-nums text-right">
            {step.done ? grams(step.taken_kg) : grams(step.target_kg)} g
          </span>
        </li>
      ))}
      {task.cups.length > 1 ? (
        <li className="py-2 text-[17px]">
          One clear mix: stir it clear, then part it:{" "}
          {task.cups
            .map(
              (cup) =>
                `${cup.colour || "clear"} ${grams((state.mass_a_kg + state.mass_b_kg || task.target_a_kg + task.target_b_kg) * cup.share)} g`,
            )
            .join(", ")}
          .
        </li>
      ) : null}
    </ol>
  );
}

/** A scale at rest on its target moves on by itself, once it has stayed so for SETTLED_MS: no swing is
 *  taken. */
function useTakesItself({ state, live }: Weighing, allowed: boolean, take: () => void) {
  const newest = useLatest(take);
  const settled = allowed && live.ready && typeof state.current === "number";
  useEffect(() => {
    if (!settled) return;
    const timer = window.setTimeout(() => newest.current(), SETTLED_MS);
    return () => window.clearTimeout(timer);
  }, [settled, state.version, newest]);
}

function useKeys(primary: (() => void) | null, undo: (() => void) | null) {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if ((event.target as HTMLElement).closest("input, select, textarea, button, a")) return;
      if (["Enter", " ", "PageDown"].includes(event.key) && primary) {
        event.preventDefault();
        primary();
      }
      if (["PageUp", "u"].includes(event.key) && undo) {
        event.preventDefault();
        undo();
      }
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [primary, undo]);
}

export function grams(kg: number): string {
  return (Math.abs(kg) < 5e-5 ? 0 : kg * 1000).toFixed(1);
}
