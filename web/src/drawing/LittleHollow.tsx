import { useId } from "react";

/** The sign of a piece: a little hollow, filled as far as it is poured. */
export function LittleHollow({ filled, tint }: { filled: number; tint: string }) {
  const clip = useId();
  const height = 36 * Math.min(Math.max(filled, 0), 1);
  return (
    <svg width="32" height="40" className="shrink-0" aria-hidden="true">
      <clipPath id={clip}>
        <path d="M2 1v24a14 11 0 0 0 28 0V1z" />
      </clipPath>
      <rect x="1" y={37 - height} width="30" height={height} fill={tint} clipPath={`url(#${clip})`} />
      <path d="M1 1v24a15 12 0 0 0 30 0V1" fill="none" className="stroke-ink" strokeWidth="1.5" />
    </svg>
  );
}
