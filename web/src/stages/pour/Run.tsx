/** Bench mode of a run: one step at a time, large; timers, alarms, tests, readings, mishaps. Works from
 *  knuckle, keyboard and pedal, and without the server. */
import { jumpRun } from "../../api/operations.generated";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Link, useParams } from "react-router";
import { AlarmOverlay, since, useAhead, useAwake, useSound } from "../../ui/alarms";
import { useUnits } from "../../ui/session";
import { Waiting } from "../../ui/states";
import { AlarmList } from "./AlarmList";
import { Ended } from "./Ended";
import { Cup } from "./Cup";
import { InTheCup } from "./InTheCup";
import { flowsUntil, MishapSheet } from "./MishapSheet";
import { More } from "./More";
import { OtherRuns } from "./OtherRuns";
import { openChecks, Ready } from "./Ready";
import { ringingOf } from "./ringing";
import { Spoken } from "./Spoken";
import { Amounts, RATIO_CARE } from "./Amounts";
import { ratioOff } from "../../domain/run";
import { signedPercent } from "../../domain/format";
import { HollowTimer } from "./HollowTimer";
import { timerOf, type Timer } from "./timer";
import { useRun, type OpenRun } from "./useRun";
import { clockTime, lateWords } from "./words";
import { useLatest } from "../../ui/useLatest";

const DEBOUNCE_MS = 350;
const LATER_S = 300;

export function Run() {
  const id = Number(useParams().run);
  return <Opened key={id} id={id} />;
}

function Opened({ id }: { id: number }) {
  const open = useRun(id);
  if (!open.run || !open.state || !open.view) return <Waiting error={open.error} what="the run" />;
  if (open.state.ended) return <Ended open={open} />;
  return <AtTheBench open={open} />;
}

function AtTheBench({ open }: { open: OpenRun }) {
  const run = open.run!;
  const view = open.view!;
  const state = open.state!;
  const { zone } = useUnits();
  const [sheet, setSheet] = useState<"mishap" | "more" | null>(null);
  const [asked, setAsked] = useState<string | null>(null);
  const [knowing, setKnowing] = useState(false);
  const sounds = useSound();
  const awake = useAwake();
  useEffect(() => {
    document.title = `${run.script.piece} · Cavatum`;
  }, [run.script.piece]);

  const shown =
    asked &&
    view.steps.some((one) => one.id === asked && !["done", "skipped", "elsewhere"].includes(one.when))
      ? asked
      : view.current;
  const step = run.script.steps.find((one) => one.id === shown);
  const seen = view.steps.find((one) => one.id === shown);
  const mark = shown ? state.marks[shown] : undefined;
  const ringing = ringingOf(open);
  const undoable = lastUndoable(open);

  useEffect(() => {
    window.scrollTo(0, 0);
  }, [shown]);
  const once = useOnce();
  const offRatio = step?.parts?.length ? ratioOff(step, state) : null;
  const isOff = offRatio !== null && Math.abs(offRatio) > RATIO_CARE;
  const end = (knowing: boolean) => {
    if (!step) return;
    const unticked = step.checks?.length ? openChecks(step, run.id) : 0;
    open.say({ kind: "done", step: step.id, unticked, knowing });
    setAsked(null);
    setKnowing(false);
  };
  const done = once(() => (isOff ? setKnowing(true) : end(false)));
  const begin = once(() => {
    if (step) open.say({ kind: "begin", step: step.id });
  });
  const skip = once(() => {
    if (step) {
      open.say({ kind: "skip", step: step.id, why: "left out at the bench" });
      setAsked(null);
    }
  });
  const undo = undoable ? once(() => open.say({ kind: "undo", event_id: undoable })) : null;
  const needsStart = !!step?.timer_s && !mark?.begun_at;
  const isTest = step?.kind === "test";
  const primary = !step || isTest ? null : needsStart ? begin : done;
  useBenchKeys({ primary, undo, mishap: () => setSheet("mishap"), quiet: !!sheet || ringing.length > 0 });

  const flows = flowsUntil(open);
  const lastPoured = run.script.steps
    .filter((one) => one.kind === "pour" && one.batch && state.marks[one.id]?.status === "done")
    .at(-1);
  const others = view.alarms.filter((one) => !one.is_past).slice(0, 3);
  useAhead(run.is_rehearsal ? [] : others, open.now, sounds);
  const timer = step && seen ? timerOf(step, seen, mark, open.now) : null;
  const inPour = useMemo(
    () => run.script.steps.filter((one) => one.pour === step?.pour && !one.branch === !step?.branch),
    [run.script.steps, step?.pour, step?.branch],
  );

  return (
    <main className="bench-mode min-h-dvh max-w-[1280px] mx-auto px-6 py-4 max-sm:px-4 max-sm:py-3 flex flex-col">
      <header className="flex flex-wrap items-center justify-between gap-x-5 gap-y-1 text-[17px]">
        <Link to={`/pieces/${run.piece_id ?? ""}/pour`} className="big-quiet px-0! no-underline! text-ink!">
          <span>
            <b className="font-semibold">‹ {run.script.piece}</b>
            <span className="sr-only">, leave bench mode</span>
            {step?.pour ? <span className="text-slate"> · pour {step.pour}</span> : null}
          </span>
        </Link>
        <span className="text-slate tabular-nums">
          {clockTime(open.now, zone)} · <Kept open={open} />
        </span>
      </header>
      {run.is_rehearsal ? (
        <p className="text-[17px] bg-tape text-tape-ink px-3 py-1.5">
          Rehearsal{run.speed > 1 ? `, ${run.speed} times as fast` : ""}: nothing is poured.
          {view.current && seen?.when === "early" && seen.opens_at ? (
            <JumpKey open={open} to={seen.opens_at} />
          ) : null}
        </p>
      ) : null}
      <Progress
        steps={inPour.map((one) => ({
          id: one.id,
          when: view.steps.find((other) => other.id === one.id)!.when,
        }))}
        current={shown ?? ""}
      />
      {step && seen ? (
        <div className="grid grid-cols-[minmax(0,1fr)_420px] gap-8 max-lg:block flex-1 mt-4">
          <section aria-label="Now" className="min-w-0">
            <h1
              className="text-[64px] leading-[1.05] max-lg:text-[44px] max-sm:text-[34px]"
              aria-live="polite"
            >
              {step.title}
            </h1>
            <p className="text-[24px] max-sm:text-[18px] mt-2 max-w-[46ch]">{step.text}</p>
            <p className="text-[17px] text-slate mt-1">
              {[step.tools ? `With: ${step.tools}.` : "", step.hand].filter(Boolean).join(" ")}
            </p>
            {step.caution ? (
              <p className="text-[17px] mt-1 font-medium">
                <span aria-hidden="true">△ </span>
                {step.caution}
              </p>
            ) : null}
            {seen.when === "late" ? (
              <p role="alert" className="text-[19px] text-rust font-semibold mt-2">
                {lateWords(step, seen, open.now, zone)}
              </p>
            ) : null}
            {mark?.repeats ? (
              <p className="text-[17px] text-slate mt-1">Said more than once; the first counts.</p>
            ) : null}
            {mark?.result && mark.result !== "passed" ? (
              <p className="text-[19px] text-rust font-semibold mt-2">
                {mark.result === "not sure" ? "Not sure" : "Not passed"} last time. Test again{" "}
                {clockTime(mark.again_at ?? open.now, zone)}.
              </p>
            ) : null}
            {step.checks?.length ? <Ready step={step} run={run.id} /> : null}
            {step.cup ? <Cup step={step} state={state} alarms={view.alarms} /> : null}
            {step.parts?.length ? (
              <Amounts
                step={step}
                state={state}
                onWeighed={(part, kg) => open.say({ kind: "weighed", step: step.id, part, kg })}
                pieceId={run.piece_id ?? null}
                canScale={!open.isAway && !run.is_rehearsal}
              />
            ) : null}
            {(run.troubles ?? [])
              .filter((one) => !state.heard.includes(`trouble/${one.id}`))
              .slice(0, 1)
              .map((one) => (
                <p
                  key={one.id}
                  role="alert"
                  className="mt-3 border-4 border-rust p-3 text-[20px] font-semibold flex flex-wrap items-center gap-4 justify-between"
                >
                  <span>{one.words}</span>
                  <button
                    className="big-box px-5 text-[19px]!"
                    onClick={() => {
                      open.say({ kind: "heard", alarm: `trouble/${one.id}` });
                      if (one.kind === "mishap") setSheet("mishap");
                    }}
                  >
                    {one.kind === "mishap" ? "Something is wrong" : "Seen"}
                  </button>
                </p>
              ))}
          </section>
          <section aria-label="Timer and keys" className="max-lg:mt-3">
            {timer ? <HollowTimer timer={timer} tint={run.script.tint} /> : null}
            {knowing && isOff ? (
              <div role="alertdialog" aria-label="Off its ratio" className="border-4 border-rust p-3 mb-3">
                <p className="text-[19px] font-semibold">
                  {signedPercent(offRatio)} off its ratio: it stays sticky or brittle for good.
                </p>
                <div className="flex flex-wrap gap-4 mt-2">
                  <button className="big-key" onClick={() => setKnowing(false)}>
                    Weigh more in
                  </button>
                  <button
                    className="big-box px-5 text-[19px]! text-rust border-rust!"
                    onClick={once(() => end(true))}
                  >
                    End it off its ratio
                  </button>
                </div>
              </div>
            ) : null}
            {isTest ? (
              <TestKeys
                decides={step.decides ?? false}
                onSay={(result, found) => open.say({ kind: "test", step: step.id, result, found })}
              />
            ) : (
              <button
                className={`big-key w-full min-h-[84px] text-[28px]! ${seen.when === "late" && step.kind === "defoam" ? "opacity-90" : ""}`}
                onClick={primary ?? undefined}
              >
                {needsStart
                  ? step.kind === "rest"
                    ? "Let it rest: start"
                    : "Start"
                  : !step.hands_s
                    ? "Seen"
                    : seen.when === "early"
                      ? "Done early"
                      : "Done"}{" "}
                <span className="text-[17px] font-normal">(pedal)</span>
              </button>
            )}
            <div className="grid grid-cols-2 gap-4 mt-4">
              {seen.when === "late" ? (
                <button className="big-box text-[19px]!" onClick={skip}>
                  Too late: leave it out
                </button>
              ) : (
                <button
                  className="big-box text-[19px]!"
                  onClick={once(() => open.say({ kind: "later", step: step.id, seconds: LATER_S }))}
                >
                  Later, 5 min
                </button>
              )}
              <button
                className="big-box text-[19px]! text-rust border-rust! font-semibold"
                onClick={() => setSheet("mishap")}
              >
                Something is wrong
              </button>
            </div>
            <div className="flex justify-between mt-3">
              <button className="big-quiet" disabled={!undo} onClick={undo ?? undefined}>
                Undo the last
              </button>
              {run.is_rehearsal ? null : (
                <Link className="big-quiet" to={`/runs/${run.id}/watch`}>
                  Camera
                </Link>
              )}
              <button className="big-quiet" onClick={() => setSheet("more")}>
                Note, photo, reading
              </button>
            </div>
          </section>
        </div>
      ) : (
        <AllDone open={open} />
      )}
      {lastPoured && flows !== null && open.now < flows ? (
        <InTheCup
          step={lastPoured}
          pieceId={run.piece_id ?? null}
          until={flows}
          onLeft={(m3) =>
            open.say({
              kind: "note",
              text: `${Math.round(m3 * 1e6)} mL left in the cup`,
              step: lastPoured.id,
            })
          }
        />
      ) : null}
      <Next open={open} current={shown} onShow={setAsked} zone={zone} />
      <AlarmList alarms={others} sounds={sounds} awake={awake} zone={zone} isAway={open.isAway} />
      {step && seen ? (
        <Spoken
          says={`${step.title}. ${step.text}`}
          onDone={sheet || ringing.length ? null : primary}
          onLater={() => open.say({ kind: "later", step: step.id, seconds: LATER_S })}
          howLong={() => howLong(timer)}
        />
      ) : null}
      <OtherRuns not={run.id} />
      {open.problem ? (
        <p role="alert" className="text-rust text-[17px]">
          {open.problem}
        </p>
      ) : null}
      {sheet === "mishap" ? <MishapSheet open={open} onClose={() => setSheet(null)} /> : null}
      {sheet === "more" ? (
        <More open={open} step={step} onClose={() => setSheet(null)} onSkip={step ? skip : null} />
      ) : null}
      <AlarmOverlay
        ringing={sheet === "mishap" ? [] : ringing}
        onHeard={(all) => {
          for (const one of all) open.say({ kind: "heard", alarm: one.id });
        }}
      />
    </main>
  );
}

function Kept({ open }: { open: OpenRun }) {
  if (open.isAway) return <b className="font-semibold text-rust">no connection, {open.waiting} kept here</b>;
  return <span>{open.waiting ? `sending ${open.waiting}` : `${open.events.length} kept`}</span>;
}

function JumpKey({ open, to }: { open: OpenRun; to: number }) {
  const jump = async () => {
    await jumpRun(open.run!.id, { to: new Date(to).toISOString() }).catch(() => undefined);
    void open.sync();
  };
  return (
    <button className="big-quiet text-tape-ink! ml-2" onClick={() => void jump()}>
      On to when it is due
    </button>
  );
}

const FILL = { done: "bg-spruce", skipped: "bg-line", late: "bg-rust", over: "bg-line" } as Record<
  string,
  string
>;

function Progress({ steps, current }: { steps: { id: string; when: string }[]; current: string }) {
  const over = steps.filter((one) => ["done", "skipped", "over"].includes(one.when)).length;
  return (
    <div
      role="img"
      aria-label={`${over} of ${steps.length} steps of this pour`}
      className="flex gap-1 mt-2 overflow-hidden"
    >
      {steps.map((one) => (
        <span
          key={one.id}
          className={`h-2 flex-1 min-w-[3px] rounded-[2px] ${one.id === current ? "bg-straw" : (FILL[one.when] ?? "bg-line")}`}
        />
      ))}
    </div>
  );
}

const FOUND = ["dimples", "bubbles", "dust", "craters", "bare spots"];

/** Passed or not; an inspection that decides says what was seen, and what follows from it. */
function TestKeys({
  decides,
  onSay,
}: {
  decides: boolean;
  onSay: (result: "passed" | "not passed" | "not sure", found: string[]) => void;
}) {
  const [found, setFound] = useState<string[]>([]);
  return (
    <div className="grid gap-4">
      <button className="big-key w-full min-h-[84px] text-[28px]!" onClick={() => onSay("passed", [])}>
        {decides ? "Flawless: it was the flood" : "Passed"}
      </button>
      {decides ? (
        <div role="group" aria-label="What is on it" className="flex flex-wrap gap-3">
          {FOUND.map((one) => (
            <button
              key={one}
              className={`big-box px-4 text-[19px]! ${found.includes(one) ? "border-spruce! font-semibold" : ""}`}
              aria-pressed={found.includes(one)}
              onClick={() =>
                setFound((now) => (now.includes(one) ? now.filter((other) => other !== one) : [...now, one]))
              }
            >
              {one}
            </button>
          ))}
        </div>
      ) : null}
      <div className="grid grid-cols-2 gap-4">
        <button className="big-box text-[20px]!" onClick={() => onSay("not sure", found)}>
          {decides ? "Look again later" : "Not sure"}
        </button>
        <button className="big-box text-[20px]!" onClick={() => onSay("not passed", found)}>
          {decides ? "Make the coat again" : "Not passed"}
        </button>
      </div>
    </div>
  );
}

/** In words to be spoken. */
function howLong(timer: Timer | null): string {
  if (!timer) return "There is no hurry.";
  const long = timer.ms < 90_000 ? `${Math.ceil(timer.ms / 1000)} seconds` : since(timer.ms);
  return `${long} ${timer.words}.`;
}

function AllDone({ open }: { open: OpenRun }) {
  return (
    <section className="mt-6">
      <h1 className="text-[44px] max-sm:text-[34px]">Nothing is left to do.</h1>
      <button className="big-key mt-4" onClick={() => open.say({ kind: "end", how: "finished" })}>
        End this run
      </button>
    </section>
  );
}

function Next({
  open,
  current,
  onShow,
  zone,
}: {
  open: OpenRun;
  current: string | null;
  onShow: (id: string) => void;
  zone: string;
}) {
  const run = open.run!;
  const rows = run.script.steps
    .map((step, index) => ({ step, seen: open.view!.steps[index]! }))
    .filter(
      ({ step, seen }) =>
        step.id !== current && !["done", "skipped", "over", "elsewhere"].includes(seen.when),
    );
  const soon = rows.slice(0, 4); // in the script's order: a batch stays together
  if (!soon.length) return null;
  return (
    <ul aria-label="Then" className="rule border-t border-line mt-4">
      {soon.map(({ step, seen }) => (
        <li key={step.id}>
          <button
            className="w-full min-h-[64px] grid grid-cols-[minmax(96px,auto)_1fr] gap-4 items-center text-left text-[18px]"
            onClick={() => onShow(step.id)}
          >
            <b className="font-semibold tabular-nums">
              {seen.opens_at ? clockTime(seen.opens_at, zone, open.now) : "after that"}
            </b>
            <span className="text-slate">
              {step.title}
              {step.pour ? `, pour ${step.pour}` : ""}
              {slip(step, seen)}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}

/** How far a step has slipped against the plan, because what it counts from was earlier or later, or the
 *  cure keeps another pace. */
function slip(
  step: { planned_at: string; anchor?: string | null },
  seen: { when: string; opens_at: number | null },
): string {
  if (!step.anchor || seen.when === "waits" || seen.opens_at === null) return "";
  const moved = seen.opens_at - +new Date(step.planned_at);
  return Math.abs(moved) < 900_000
    ? ""
    : `, ${since(Math.abs(moved))} ${moved > 0 ? "later" : "sooner"} than planned`;
}

/** The last word that changed a step, of anybody, that was not taken back. */
function lastUndoable({ events, state }: OpenRun): string | null {
  const found = [...events]
    .reverse()
    .find(
      (one) =>
        ["begin", "done", "skip", "test"].includes(one.event.kind) && !state!.undone.includes(one.event_id),
    );
  return found?.event_id ?? null;
}

/** A glove that knocks twice is heard once. */
function useOnce() {
  const last = useRef(0);
  return useCallback(
    (work: () => void) => () => {
      if (performance.now() - last.current < DEBOUNCE_MS) return;
      last.current = performance.now();
      work();
      last.current = performance.now(); // a slow device works longer than a glove knocks
    },
    [],
  );
}

function useBenchKeys({
  primary,
  undo,
  mishap,
  quiet,
}: {
  primary: (() => void) | null;
  undo: (() => void) | null;
  mishap: () => void;
  quiet: boolean;
}) {
  const newest = useLatest({ primary, undo, mishap, quiet });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const keys = newest.current;
      if (
        keys.quiet ||
        (event.target as HTMLElement).closest("input, textarea, select") ||
        event.ctrlKey ||
        event.metaKey ||
        event.altKey
      )
        return;
      const onButton = !!(event.target as HTMLElement).closest("button, a");
      if (event.key === "PageDown" || (!onButton && (event.key === " " || event.key === "Enter"))) {
        event.preventDefault();
        keys.primary?.();
      } else if (event.key === "PageUp" || event.key === "u") {
        event.preventDefault();
        keys.undo?.();
      } else if (event.key === "m") keys.mishap();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [newest]);
}
