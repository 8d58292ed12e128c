/** A box to tick that shows the tick at once, while the edit is still on its way; when the edit is refused
 *  it goes back. */
import { useEffect, useState, type ReactNode } from "react";

interface Props {
  checked: boolean;
  onChange: (checked: boolean) => Promise<void> | void;
  children: ReactNode;
  className?: string;
}

export function Check({ checked, onChange, children, className = "items-center" }: Props) {
  const [shown, setShown] = useState(checked);
  useEffect(() => setShown(checked), [checked]);
  const change = async (next: boolean) => {
    setShown(next);
    try {
      await onChange(next);
    } catch {
      setShown(checked);
    }
  };
  return (
    <label className={`flex gap-2 text-[13px] min-h-7 ${className}`}>
      <input
        type="checkbox"
        className={className.includes("items-start") ? "mt-1" : undefined}
        checked={shown}
        onChange={(event) => void change(event.target.checked)}
      />
      {children}
    </label>
  );
}
