/** The timer as the little hollow: it empties as the time runs out. */
import { large, type Timer } from "./timer";

const OUTLINE = "M14 6v106a176 88 0 0 0 352 0V6";

export function HollowTimer({ timer, tint }: { timer: Timer; tint: string }) {
  const figure = large(timer.ms);
  const top = 22 + 168 * (1 - Math.min(Math.max(timer.share, 0), 1));
  return (
    <div
      className="relative mx-auto w-full max-w-[380px] mb-4"
      role="timer"
      aria-label={`${figure} ${timer.words}`}
    >
      <svg viewBox="0 0 380 206" className="block w-full" aria-hidden="true">
        <clipPath id="timer-hollow">
          <path d={`${OUTLINE}z`} />
        </clipPath>
        <rect
          x="10"
          y={top}
          width="360"
          height="200"
          fill={tint}
          opacity="0.38"
          clipPath="url(#timer-hollow)"
        />
        <path d={OUTLINE} fill="none" className="stroke-slate" strokeWidth="4" />
      </svg>
      <div className="absolute inset-0 grid content-center justify-items-center pb-6">
        <span
          data-figure="timer"
          className={`font-semibold tabular-nums leading-none whitespace-nowrap text-[88px] max-sm:text-[80px] ${timer.over ? "text-rust" : ""}`}
          style={figure.length > 6 ? { letterSpacing: "-0.03em" } : undefined}
        >
          {figure}
        </span>
        <span className="text-[18px]">{timer.words}</span>
      </div>
    </div>
  );
}
