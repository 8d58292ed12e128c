/** What the sheets of the shelf are laid out with: sections, choices, typical values that are compared. */
import type { System } from "../../domain/system-fields";
import type { Reading } from "../../ui/QuantityField";

export interface PartProps {
  system: System;
  change: (part: Partial<System>) => Promise<void>;
}

export function Section({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <>
      <h3 className="font-semibold mt-5 border-b border-ink">{title}</h3>
      <div className="mt-2 grid grid-cols-3 gap-3 max-md:grid-cols-2">{children}</div>
    </>
  );
}

/** A typical value is taken over as the sheet's with one tap, once it was compared. */
export function Compared({
  reading,
  onSame,
  children,
}: {
  reading: Reading | null | undefined;
  onSame: (reading: Reading) => Promise<void> | void;
  children: React.ReactNode;
}) {
  return (
    <div>
      {children}
      {reading?.origin === "typical" ? (
        <button className="quiet text-[12px]" onClick={() => void onSame({ ...reading, origin: "sheet" })}>
          same on mine
        </button>
      ) : null}
    </div>
  );
}

export function Choice({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: [string, string][];
  onChange: (value: string) => Promise<void> | void;
}) {
  const id = `choice-${label.replace(/\W+/g, "-")}`;
  return (
    <div>
      <label className="label" htmlFor={id}>
        {label}
      </label>
      <select
        id={id}
        className="box"
        value={value}
        onChange={(event) => void Promise.resolve(onChange(event.target.value)).catch(() => undefined)}
      >
        {options.map(([one, words]) => (
          <option key={one} value={one}>
            {words}
          </option>
        ))}
      </select>
    </div>
  );
}
