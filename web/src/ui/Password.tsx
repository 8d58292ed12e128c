/** A password field whose text can be shown for a moment. */
import { useState } from "react";

interface Props {
  label: string;
  autoComplete: "current-password" | "new-password";
  value: string;
  onChange: (value: string) => void;
  help?: string | undefined;
  small?: boolean;
}

export function Password({ label, autoComplete, value, onChange, help, small }: Props) {
  const [shown, setShown] = useState(false);
  return (
    <div
      className={small ? "flex items-end gap-3 text-[13px] text-slate" : "flex items-end gap-3 text-[15px]"}
    >
      <label className={small ? "grid flex-1 min-w-0" : "grid gap-1 flex-1 min-w-0"}>
        {label}
        <input
          className={small ? "box" : "box min-h-11"}
          type={shown ? "text" : "password"}
          autoComplete={autoComplete}
          autoCapitalize="none"
          spellCheck={false}
          required
          maxLength={128}
          aria-describedby={help}
          value={value}
          onChange={(event) => onChange(event.target.value)}
        />
      </label>
      <button
        type="button"
        className={small ? "quiet" : "quiet min-h-11"}
        aria-label={shown ? "Hide what was typed" : "Show what was typed"}
        onClick={() => setShown(!shown)}
      >
        {shown ? "Hide" : "Show"}
      </button>
    </div>
  );
}
