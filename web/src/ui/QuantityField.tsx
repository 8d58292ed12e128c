/** One field for a spoken quantity: keeps what was typed, shows what was understood, says at the field what
 *  is wrong. */
import { useEffect, useId, useRef, useState } from "react";
import { Refused, type FieldProblem } from "../api/client";
import { text } from "../domain/format";
import { FieldHelp } from "./FieldHelp";
import { ORIGINS } from "./Fig";
import { keepsMine, useKnown } from "./overtaken";
import { useLatest } from "./useLatest";
import { useUnits } from "./session";
import { readingOf, readQuantity } from "./readQuantity";

export interface Reading {
  value: number;
  as_typed?: string;
  origin?: "chosen" | "measured" | "learned" | "sheet" | "typical" | "computed";
  spread?: number | null;
}

interface Props {
  label: string;
  kind: string;
  reading?: Reading | null | undefined;
  /** Resolves when kept; a thrown Refused is shown here. null empties an optional field. */
  onCommit: (reading: Reading | null) => Promise<void> | void;
  optional?: boolean | undefined;
  pointer?: string | undefined;
  help?: string | undefined;
  origin?: Reading["origin"] | undefined;
  initial?: string | undefined;
  onText?: (text: string) => void;
  hideLabel?: boolean;
  /** a bare number is asked about instead of being read in the workshop's unit */
  asks?: boolean;
  /** told when what stands in it is refused, and when it is right again */
  onWrong?: ((isWrong: boolean) => void) | undefined;
}

/** What a server keeps of a value and sends back may differ in its last digits. */
const isSame = (one: number | null, other: number | null) =>
  one === null || other === null ? one === other : Math.abs(one - other) <= 1e-6 * Math.abs(one);

const VOID_PROBLEM = (message: string): FieldProblem => ({
  pointer: "",
  message,
  value: "",
  way_out: "",
  code: "",
});

export function QuantityField({
  label,
  kind,
  reading,
  onCommit,
  optional,
  pointer,
  help,
  origin = "measured",
  initial,
  onText,
  hideLabel,
  asks = false,
  onWrong,
}: Props) {
  const { units, currency } = useUnits();
  const id = useId();
  const written = reading ? reading.as_typed || text(reading.value, kind, units, currency) : (initial ?? "");
  const [typed, setTyped] = useState(written);
  const [understood, setUnderstood] = useState("");
  const [problem, setProblem] = useState<FieldProblem | null>(null);
  const busy = useRef(false);
  const kept = useRef(written);

  const known = useKnown(isSame);
  useEffect(() => {
    if (busy.current) return;
    known.settle();
    kept.current = written;
    setTyped((now) => (problem ? now : written));
  }, [written]); // eslint-disable-line

  // Reading takes a moment: what is done with it is by then that of the newest rendering.
  const latest = useLatest(onCommit);
  const isWrong = problem !== null;
  const told = useLatest(onWrong);
  const standing = useLatest({ written, value: reading?.value ?? null });
  useEffect(() => told.current?.(isWrong), [isWrong, told]);
  const commit = async (value: string) => {
    const wasTyped = busy.current;
    busy.current = false;
    const there = standing.current;
    const isOvertaken = wasTyped && known.isOvertaken(there.value) && there.written !== value;
    if (isOvertaken && (value === kept.current || !keepsMine(label, there.written, value))) {
      kept.current = there.written;
      setTyped(there.written);
      setProblem(null);
      return;
    }
    if (value === kept.current && !problem) return;
    if (value.trim() === "" && optional) {
      setProblem(null);
      setUnderstood("");
      kept.current = "";
      known.send(null);
      await latest.current(null);
      return;
    }
    try {
      const found = await readQuantity(value, kind, units, asks);
      if (!busy.current) {
        // nobody has typed on meanwhile
        setUnderstood([found.words, ...found.notes].join(", "));
        setTyped(found.as_typed);
        onText?.(found.as_typed);
      }
      known.send(found.value);
      await latest.current(readingOf(found, origin));
      kept.current = found.as_typed;
      setProblem(null);
    } catch (error) {
      if (error instanceof Refused)
        setProblem(
          (pointer && error.about(pointer)) || error.problem.problems?.[0] || VOID_PROBLEM(error.message),
        );
      else setProblem(VOID_PROBLEM((error as Error).message));
    }
  };

  return (
    <div className="min-w-0">
      <div className={hideLabel ? "sr-only" : "flex items-end gap-x-1 text-[13px] text-slate"}>
        <label htmlFor={id} className="label">
          {label}
        </label>
        {hideLabel ? null : <FieldHelp label={label} />}
        {reading?.origin && reading.origin !== "measured" ? (
          <span className={`ml-auto ${reading.origin === "typical" ? "text-rust" : ""}`}>
            {reading.origin === "typical" ? "typical" : ORIGINS[reading.origin]}
          </span>
        ) : null}
      </div>
      <input
        id={id}
        className="box tabular-nums"
        value={typed}
        autoComplete="off"
        placeholder={optional ? "none" : undefined}
        inputMode={kind === "count" ? "numeric" : "text"}
        aria-invalid={problem ? true : undefined}
        aria-describedby={`${id}-says`}
        onChange={(event) => {
          if (!busy.current) known.begin(standing.current.value);
          busy.current = true;
          setProblem(null);
          setTyped(event.target.value);
          onText?.(event.target.value);
        }}
        onBlur={(event) => void commit(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter") void commit(event.currentTarget.value);
          if (event.key === "Escape") {
            setTyped(kept.current);
            setProblem(null);
            busy.current = false;
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
        ) : understood ? (
          <p className="text-slate">{understood}</p>
        ) : help ? (
          <p className="text-slate">{help}</p>
        ) : null}
      </div>
    </div>
  );
}

interface TextProps {
  label: string;
  value: string;
  onCommit: (value: string) => Promise<void> | void;
  required?: boolean;
  type?: string;
}

/** Plain text that is kept when the field is left. */
export function TextField({ label, value, onCommit, required, type = "text" }: TextProps) {
  const id = useId();
  const [typed, setTyped] = useState(value);
  const [problem, setProblem] = useState("");
  const base = useRef(value); // what stood here when typing began
  const now = useLatest(typed);
  const known = useKnown<string>();
  useEffect(() => {
    if (now.current !== base.current) return; // being typed: nothing that arrives takes it away
    known.settle();
    base.current = value;
    setTyped(value);
  }, [value, now]); // eslint-disable-line
  const take = (text: string) => {
    base.current = text;
    setTyped(text);
    setProblem("");
  };
  const commit = async () => {
    const before = base.current;
    if (typed === value) return take(value);
    if (known.isOvertaken(value) && (typed === before || !keepsMine(label, value, typed))) return take(value);
    if (required && !typed.trim()) return setProblem("It needs a name.");
    try {
      base.current = typed;
      known.send(typed);
      await onCommit(typed);
      setProblem("");
    } catch (error) {
      base.current = before;
      setProblem((error as Error).message);
    }
  };
  return (
    <div className="min-w-0">
      <label htmlFor={id} className="label">
        {label}
      </label>
      <input
        id={id}
        type={type}
        className="box"
        value={typed}
        aria-invalid={problem ? true : undefined}
        onChange={(event) => {
          if (typed === base.current) known.begin(value);
          setTyped(event.target.value);
        }}
        onBlur={() => void commit()}
        onKeyDown={(event) => event.key === "Enter" && void commit()}
      />
      {problem ? (
        <p role="alert" className="text-[12px] text-rust">
          {problem}
        </p>
      ) : null}
    </div>
  );
}
