/** A weight or a volume put in by knuckle: keys of 64 px, no keyboard. The server reads it, so the unit is
 *  said. */
import { useRef, useState } from "react";
import type { Schemas } from "../../../api/client";
import { readQuantity } from "../../../ui/readQuantity";

const KEYS = ["7", "8", "9", "4", "5", "6", "1", "2", "3", ".", "0", "⌫"];
const UNITS = { mass: ["g", "oz wt", "kg"], volume: ["mL", "L", "fl oz"] };

interface Props {
  title: string;
  kind?: "mass" | "volume" | undefined;
  /** One unit in which the digits are meant as they are: works without the server too. */
  plain?: string;
  /** a key for nothing at all */
  mayBeNothing?: boolean;
  onTake: (value: number, typed: string) => void;
  onClose: () => void;
}

export function NumberPad({ title, kind = "mass", plain, mayBeNothing = false, onTake, onClose }: Props) {
  const [digits, setDigits] = useState("");
  const units = plain ? [plain] : UNITS[kind];
  const [unit, setUnit] = useState(units[0]);
  const [problem, setProblem] = useState("");
  const press = (key: string) => {
    setProblem("");
    setDigits((now) =>
      key === "⌫" ? now.slice(0, -1) : key === "." && now.includes(".") ? now : (now + key).slice(0, 8),
    );
  };
  const asking = useRef(false);
  const take = async () => {
    if (asking.current) return; // a knuckle that comes down twice means it once
    if (plain) return onTake(Number(digits), `${digits} ${plain}`);
    asking.current = true;
    try {
      const found: Schemas["Understood"] = await readQuantity(`${digits} ${unit}`, kind, "metric");
      onTake(found.value, found.as_typed);
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      asking.current = false;
    }
  };
  return (
    <div
      role="dialog"
      aria-label={title}
      className="fixed inset-0 z-50 bg-paper grid place-content-center p-4 gap-3 overflow-auto"
      onKeyDown={(event) => {
        if (/^[0-9.]$/.test(event.key)) press(event.key);
        else if (event.key === "Backspace") press("⌫");
        else if (event.key === "Escape") onClose();
      }}
    >
      <p className="text-[22px] font-semibold max-w-[26ch]">{title}</p>
      <output
        aria-label="so far"
        className="text-[64px] leading-none font-semibold tabular-nums border-b-2 border-ink min-h-[72px]"
      >
        {digits || "0"} <span className="text-[28px]">{unit}</span>
      </output>
      {problem ? (
        <p role="alert" className="text-[18px] text-rust max-w-[30ch]">
          {problem}
        </p>
      ) : null}
      {mayBeNothing ? (
        <button className="big-box" onClick={() => onTake(0, "0 g")}>
          Nothing from it yet
        </button>
      ) : null}
      <div className="grid grid-cols-[repeat(3,84px)_132px] gap-2">
        {KEYS.map((key, index) => (
          <button
            key={key}
            autoFocus={index === 0}
            className="big-box"
            style={{ gridColumn: (index % 3) + 1, gridRow: Math.floor(index / 3) + 1 }}
            aria-label={key === "⌫" ? "delete" : key}
            onClick={() => press(key)}
          >
            {key}
          </button>
        ))}
        <div
          role="radiogroup"
          aria-label="unit"
          className="col-start-4 row-start-1 row-span-3 grid gap-2 pl-6"
        >
          {units.map((one) => (
            <button
              key={one}
              role="radio"
              aria-checked={one === unit}
              className={`big-box px-2 ${one === unit ? "border-spruce! border-4! font-semibold" : ""}`}
              onClick={() => setUnit(one)}
            >
              {one}
            </button>
          ))}
        </div>
      </div>
      <div className="flex justify-between gap-8 mt-2">
        <button className="big-quiet" onClick={onClose}>
          Never mind
        </button>
        <button className="big-key" disabled={!digits} onClick={() => void take()}>
          Take it
        </button>
      </div>
    </div>
  );
}
