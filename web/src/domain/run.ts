/** What a log of events makes of a run's script: the same fold as core/pour/state.py, so that a phone out
 *  of reach goes on by itself.
 *  No rule of the trade is in it: windows, waits and words come with the script. tests/examples/runs.json
 *  is read by both. */
import type { Schemas } from "../api/client";

export type Script = Schemas["Script"];
export type ScriptStep = Schemas["ScriptStep"];
export type Kept = Schemas["Kept"];
export type RunEvent = Schemas["Kept"]["event"];

export interface Mark {
  status: "to do" | "done" | "skipped";
  begun_at: number | null;
  ended_at: number | null;
  result: string;
  again_at: number | null;
  later_at: number | null;
  who: string;
  repeats: number;
  event_id: string;
}

export interface OpenMishap {
  event_id: string;
  code: string;
  at: number;
  over_at: number | null;
}

export interface RunState {
  marks: Record<string, Mark>;
  mishaps: OpenMishap[];
  heard: string[];
  pace: Record<string, number>;
  slow: Record<string, number>;
  weighed: Record<string, Record<string, number>>;
  cup: Record<string, { at: number; celsius: number }>;
  saw: { event_id: string; words: string; at: number; urgent: boolean }[];
  attached: number | null;
  ended: "" | "finished" | "given up";
  ended_at: number | null;
  undone: string[];
}

export type When = "waits" | "early" | "open" | "late" | "over" | "done" | "skipped" | "elsewhere";

export interface StepView {
  id: string;
  when: When;
  opens_at: number | null;
  closes_at: number | null;
  timer_ends_at: number | null;
}

export interface Alarm {
  id: string;
  step: string;
  at: number;
  words: string;
  is_past: boolean;
}

export interface RunView {
  current: string | null;
  steps: StepView[];
  alarms: Alarm[];
}

const CLOSING_MS = 120_000;
const LEAST_WAIT_S = 1800;
const FRESH: Mark = {
  status: "to do",
  begun_at: null,
  ended_at: null,
  result: "",
  again_at: null,
  later_at: null,
  who: "",
  repeats: 0,
  event_id: "",
};

const ms = (iso: string): number => new Date(iso).getTime();

export function fold(script: Script, events: readonly Kept[]): RunState {
  const known = new Map(script.steps.map((step) => [step.id, step]));
  const undone = new Set(events.flatMap((one) => (one.event.kind === "undo" ? [one.event.event_id] : [])));
  const state: RunState = {
    marks: {},
    mishaps: [],
    heard: [],
    pace: {},
    slow: {},
    weighed: {},
    cup: {},
    saw: [],
    attached: null,
    ended: "",
    ended_at: null,
    undone: [...undone].sort(),
  };
  for (const one of events)
    if (!undone.has(one.event_id)) {
      apply(state, known, one);
      judge(state, known, script, one);
    }
  return state;
}

function apply(state: RunState, known: Map<string, ScriptStep>, one: Kept): void {
  const event = one.event;
  switch (event.kind) {
    case "begin":
    case "done":
    case "skip":
    case "test":
    case "later": {
      const step = known.get(event.step);
      if (step) state.marks[event.step] = marked(state.marks[event.step] ?? FRESH, step, one);
      break;
    }
    case "heard":
      if (!state.heard.includes(event.alarm)) state.heard.push(event.alarm);
      break;
    case "saw":
      if (event.rings ?? true)
        state.saw.push({
          event_id: one.event_id,
          words: event.words,
          at: ms(one.at),
          urgent: event.urgent ?? false,
        });
      break;
    case "mishap":
      state.mishaps.push({ event_id: one.event_id, code: event.code, at: ms(one.at), over_at: null });
      break;
    case "mishap-over": {
      const found = state.mishaps.find((mishap) => mishap.event_id === event.event_id);
      if (found && found.over_at === null) found.over_at = ms(one.at);
      break;
    }
    case "pace":
      state.pace[String(event.pour)] = event.times;
      break;
    case "attach":
      state.attached = event.pour ?? null;
      break;
    case "end":
      if (!state.ended) {
        state.ended = event.how;
        state.ended_at = ms(one.at);
      }
      break;
    case "weighed":
      state.weighed[event.step] = { ...state.weighed[event.step], [event.part]: event.kg };
      break;
    case "reading":
      if (event.what === "cup_c" && event.step)
        state.cup[event.step] = { at: ms(one.at), celsius: event.value };
      break;
    case "undo":
    case "note":
    case "photo":
      break;
  }
}

/** What a test tells of the cure of its pour. */
function judge(state: RunState, known: Map<string, ScriptStep>, script: Script, one: Kept): void {
  if (one.event.kind !== "test") return;
  const step = known.get(one.event.step);
  const table = script.again ?? [];
  if (!step?.anchor || !table.length || (step.from_s ?? 0) <= 0) return;
  const from = step.from_s ?? 0;
  const mark = state.marks[step.id]!;
  const poured = state.marks[step.anchor]?.ended_at ?? null;
  if (poured === null) return;
  const pour = pourOf(step.anchor);
  const ratio = Math.max((ms(one.at) - poured) / 1000, 0) / from;
  if (mark.status === "to do") {
    const times = nextTimes(table, ratio);
    const wait = Math.max(whole(from * times), whole(from * ratio) + LEAST_WAIT_S);
    const again_at = whenHere(script, poured + wait * 1000, step.hands_s ?? 0);
    state.marks[step.id] = { ...mark, again_at };
    state.slow[pour] = Math.max(state.slow[pour] ?? 1, times);
  } else if (mark.result === "passed" && state.slow[pour] !== undefined)
    state.slow[pour] = Math.max(1, Math.min(state.slow[pour], ratio));
}

function nextTimes(table: readonly [number, number][], ratio: number): number {
  if (ratio <= table[0]![0]) return table[0]![1];
  for (let place = 1; place < table.length; place++) {
    const [low, first] = table[place - 1]!;
    const [high, then] = table[place]!;
    if (ratio <= high) return first + ((then - first) * (ratio - low)) / (high - low);
  }
  const last = table.at(-1)!;
  return (ratio * last[1]) / last[0];
}

function whenHere(script: Script, at: number, hands_s: number): number {
  for (const [begin, end] of script.here ?? []) {
    const start = Math.max(ms(begin), at);
    if ((ms(end) - start) / 1000 >= hands_s) return start;
  }
  return at;
}

const whole = (seconds: number): number => Math.floor(seconds + 0.5);
const pourOf = (step: string): string => step.split("/")[0]!.slice(1);

/** How many times as long its cure takes: by its temperatures, and at least what its tests tell. */
export function paceOfPour(state: RunState, pour: string): number {
  return Math.max(state.pace[pour] ?? 1, state.slow[pour] ?? 0);
}

/** A test that was passed early opens early; one that was not passed keeps it shut until the next. */
function byItsGate(step: ScriptStep, state: RunState, opens: number): number {
  const mark = step.gate ? state.marks[step.gate] : undefined;
  const lag = whole(step.gate_lag_s ?? 0) * 1000;
  if (!mark) return opens;
  if (mark.status === "done" && mark.result === "passed" && mark.ended_at !== null)
    return Math.min(opens, mark.ended_at + lag);
  return mark.again_at === null ? opens : Math.max(opens, mark.again_at + lag);
}

function marked(mark: Mark, step: ScriptStep, one: Kept): Mark {
  const event = one.event;
  const at = ms(one.at);
  if (mark.status !== "to do") {
    const again = mark.status === "done" && event.kind === "done" && typeof step.most_s === "number";
    return { ...mark, repeats: mark.repeats + 1, ended_at: again ? at : mark.ended_at };
  }
  if (event.kind === "begin")
    return mark.begun_at === null
      ? { ...mark, begun_at: at, who: one.who, event_id: one.event_id, later_at: null }
      : mark;
  if (event.kind === "later") return { ...mark, later_at: at + event.seconds * 1000 };
  const decides = step.decides && event.kind === "test" && event.result === "not passed";
  if (event.kind === "test" && event.result !== "passed" && !decides)
    return {
      ...mark,
      result: event.result,
      again_at: at + Math.floor((step.again_s ?? 0) + 0.5) * 1000,
      begun_at: mark.begun_at ?? at,
      later_at: null,
    };
  return {
    ...mark,
    status: event.kind === "skip" ? "skipped" : "done",
    result: event.kind === "test" ? event.result : mark.result,
    begun_at: mark.begun_at ?? at,
    ended_at: at,
    who: one.who,
    event_id: one.event_id,
    later_at: null,
    again_at: null,
  };
}

export function look(script: Script, state: RunState, now: number): RunView {
  const steps = script.steps.map((step) => view(step, state, now));
  const alarms = state.ended
    ? []
    : [
        ...script.steps.flatMap((step, index) => alarmsOf(step, steps[index]!, state, now)),
        ...sawAlarms(state, now),
      ];
  alarms.sort((a, b) => a.at - b.at || (a.id < b.id ? -1 : a.id > b.id ? 1 : 0));
  return { current: state.ended ? null : currentOf(script, steps), steps, alarms };
}

function currentOf(script: Script, views: StepView[]): string | null {
  const due = views
    .map((one, index) => ({ one, step: script.steps[index]! }))
    .filter(({ one }) => one.when === "open" || one.when === "late");
  const hands = due.find(({ step }) => (step.hands_s ?? 0) > 0);
  const known = hands ?? due[0];
  if (known) return known.one.id;
  let best: StepView | null = null;
  for (const one of views)
    if (one.when === "early" && one.opens_at !== null && (best === null || one.opens_at < best.opens_at!))
      best = one;
  return best?.id ?? null;
}

export function windowOf(
  step: ScriptStep,
  state: RunState,
): { opens: number | null; closes: number | null; settled: boolean } {
  const planned = { opens: ms(step.planned_at), closes: step.planned_to ? ms(step.planned_to) : null };
  if (!step.anchor) return { ...planned, settled: true };
  const anchor = state.marks[step.anchor];
  if (anchor?.status === "skipped") return { ...planned, settled: true };
  const at = !anchor ? null : step.on === "begun" ? anchor.begun_at : anchor.ended_at;
  if (at === null || (step.on !== "begun" && anchor!.status !== "done"))
    return { ...planned, settled: false };
  const pace = step.with_cure ? paceOfPour(state, pourOf(step.anchor)) : 1;
  return {
    opens: byItsGate(step, state, at + whole((step.from_s ?? 0) * pace) * 1000),
    closes: typeof step.to_s === "number" ? at + Math.floor(step.to_s * pace + 0.5) * 1000 : null,
    settled: true,
  };
}

function view(step: ScriptStep, state: RunState, now: number): StepView {
  const mark = state.marks[step.id] ?? FRESH;
  const found = windowOf(step, state);
  let { opens, closes } = found;
  if (mark.again_at !== null) {
    opens = mark.again_at;
    closes = closes === null ? null : Math.max(closes, opens);
  }
  const over = goneBy(step, mark, state, now);
  if (over !== null)
    return { id: step.id, when: "late", opens_at: mark.ended_at, closes_at: over, timer_ends_at: null };
  const waited = waitedUntil(step, state);
  if (waited !== null && waited > now && mark.status === "to do")
    return { id: step.id, when: "early", opens_at: waited, closes_at: closes, timer_ends_at: null };
  if (isElsewhere(step, state))
    return { id: step.id, when: "elsewhere", opens_at: opens, closes_at: closes, timer_ends_at: null };
  const timer =
    step.timer_s && mark.begun_at !== null && mark.status === "to do"
      ? mark.begun_at + step.timer_s * 1000
      : null;
  return {
    id: step.id,
    when: when(step, mark, opens, closes, found.settled, now),
    opens_at: opens,
    closes_at: closes,
    timer_ends_at: timer,
  };
}

/** When what was prepared would have had to be mixed on; null while that holds, or once it was stirred. */
function goneBy(step: ScriptStep, mark: Mark, state: RunState, now: number): number | null {
  if (typeof step.most_s !== "number" || step.kind !== "prepare") return null;
  if (mark.status !== "done" || mark.ended_at === null) return null;
  const stirred = Object.entries(state.marks).some(
    ([id, one]) => id.startsWith("p1/") && id.includes("/stir") && one.begun_at !== null,
  );
  const over = mark.ended_at + whole(step.most_s) * 1000;
  return !stirred && now > over ? over : null;
}

/** From when the first mixing may begin, after the waits of what was prepared. */
function waitedUntil(step: ScriptStep, state: RunState): number | null {
  const found = (step.waits ?? []).flatMap(([id, wait]) => {
    const mark = state.marks[id];
    return mark?.status === "done" && mark.ended_at !== null ? [mark.ended_at + whole(wait) * 1000] : [];
  });
  return found.length ? Math.max(...found) : null;
}

/** A step of a branch that was not taken, or only of the other one. */
function isElsewhere(step: ScriptStep, state: RunState): boolean {
  const failed = (id: string) => {
    const mark = state.marks[id];
    return mark?.status === "done" && mark.result === "not passed";
  };
  return (!!step.branch && !failed(step.branch)) || (!!step.unless && failed(step.unless));
}

function when(
  step: ScriptStep,
  mark: Mark,
  opens: number | null,
  closes: number | null,
  settled: boolean,
  now: number,
): When {
  if (mark.status !== "to do") return mark.status;
  if (!settled) return "waits";
  if (closes !== null && now > closes) return step.passes ? "over" : "late";
  return opens !== null && now < opens && step.anchor ? "early" : "open";
}

/** When the batch in its cup is as warm as its sheet wants it: by the model, from the newest reading on. */
function cupDue(step: ScriptStep, state: RunState): [string, number, string][] {
  const begun = step.anchor ? (state.marks[step.anchor]?.begun_at ?? null) : null;
  if (!step.cup || begun === null) return [];
  const wanted: [string, number | null | undefined, string][] = [
    ["split", step.cup.split_c, "part the colours now"],
    ["warm", step.cup.pour_c, "it is warm enough: pour"],
  ];
  return wanted.flatMap(([name, celsius, words]): [string, number, string][] => {
    const at = typeof celsius === "number" ? warmAt(step, state, begun, celsius) : null;
    return at === null ? [] : [[name, at, `${step.title}: ${words}`]];
  });
}

function warmAt(step: ScriptStep, state: RunState, begun: number, celsius: number): number | null {
  const curve = step.cup!.curve;
  const wanted = firstAt(curve, celsius);
  if (wanted === null) return null;
  const read = state.cup[step.id];
  if (!read) return begun + whole(wanted) * 1000;
  if (read.celsius >= celsius) return read.at;
  return read.at + whole(Math.max(wanted - (firstAt(curve, read.celsius) ?? 0), 0)) * 1000;
}

function firstAt(curve: readonly [number, number][], celsius: number): number | null {
  if (curve.length && curve[0]![1] >= celsius) return curve[0]![0];
  for (let place = 1; place < curve.length; place++) {
    const [at, low] = curve[place - 1]!;
    const [then, high] = curve[place]!;
    if (low < celsius && celsius <= high) return at + ((then - at) * (celsius - low)) / (high - low);
  }
  return null;
}

/** What a part of this batch should be: by the plan, or as the other one came out asks for it. */
export function targetKg(step: ScriptStep, state: RunState, part: string): number {
  const said = state.weighed[step.id] ?? {};
  const parts = step.parts ?? [];
  const own = parts.find((one) => one.part === part)!;
  const other = parts.find((one) => one.part !== part)!;
  if (said[other.part] === undefined || (said[part] !== undefined && parts[0]!.part === part))
    return own.target_kg;
  const grid = step.step_kg ?? 1e-4;
  return Math.floor((said[other.part]! * own.per_other) / grid + 0.5) * grid;
}

/** By how much what was typed of both parts is off their ratio; null while one is not typed. */
export function ratioOff(step: ScriptStep, state: RunState): number | null {
  const said = state.weighed[step.id] ?? {};
  const [first, second] = step.parts ?? [];
  if (!first || !second || said[first.part] === undefined || said[second.part] === undefined) return null;
  return said[second.part]! / (said[first.part]! * second.per_other) - 1;
}

/** What a camera saw rings at once, until somebody heard it. */
function sawAlarms(state: RunState, now: number): Alarm[] {
  return state.saw
    .map((one) => ({
      id: `saw/${one.event_id}`,
      step: "",
      at: one.at,
      words: one.words,
      is_past: one.at <= now,
    }))
    .filter((one) => !state.heard.includes(one.id));
}

function alarmsOf(step: ScriptStep, seen: StepView, state: RunState, now: number): Alarm[] {
  if (["done", "skipped", "waits", "over", "elsewhere"].includes(seen.when)) return [];
  const mark = state.marks[step.id] ?? FRESH;
  const found = cupDue(step, state);
  if (seen.timer_ends_at !== null) found.push(["timer", seen.timer_ends_at, `${step.title}: time is up`]);
  else if (mark.later_at !== null)
    found.push([`later-${Math.trunc(mark.later_at / 1000)}`, mark.later_at, step.title]);
  else if (
    (step.rings ?? true) &&
    step.anchor &&
    seen.opens_at !== null &&
    (step.hands_s ?? 0) > 0 &&
    (step.from_s ?? 0) > 0
  )
    found.push([`opens-${Math.trunc(seen.opens_at / 1000)}`, seen.opens_at, step.title]);
  if (step.kind === "pour" && seen.closes_at !== null)
    found.push(["closes", seen.closes_at - CLOSING_MS, `${step.title}: the cup has to be empty in 2 min`]);
  return found
    .map(([name, at, words]) => ({ id: `${step.id}/${name}`, step: step.id, at, words, is_past: at <= now }))
    .filter((one) => !state.heard.includes(one.id));
}
