/** How far to the target: a level that rises to the line, with the span that is close enough marked. */
import type { Schemas } from "../../../api/client";
import { grams } from "./Weigh";

const SHOWN = 1.15; // of the target: room to show too much

export function Bar({ step, live }: { step: Schemas["WeighStep"]; live: Schemas["Live"] }) {
  const share = Math.min(Math.max(live.share ?? 0, 0), SHOWN);
  const close = step.remaining_kg > 0 ? Math.max(step.close_kg / step.remaining_kg, 0.004) : 0.01;
  const fill =
    live.tone === "too much" ? "var(--rust)" : live.tone === "on it" ? "var(--spruce)" : "var(--liquid)";
  const pct = (value: number) => `${(100 * value) / SHOWN}%`;
  return (
    <svg
      className="block w-full mt-2"
      height="92"
      role="img"
      aria-label={`${Math.round(100 * (live.share ?? 0))} percent of ${grams(step.remaining_kg)} grams`}
    >
      <rect x="0" y="8" width="100%" height="52" fill="var(--form)" className="stroke-ink" strokeWidth="2" />
      <rect x="0" y="8" width={pct(share)} height="52" fill={fill} className="stroke-ink" strokeWidth="2" />
      <rect
        x={pct(1 - close)}
        y="2"
        width={pct(2 * close)}
        height="64"
        fill="none"
        stroke="var(--spruce)"
        strokeWidth="3"
      />
      <line x1={pct(1)} x2={pct(1)} y1="0" y2="68" className="stroke-ink" strokeWidth="3" />
      <text x={pct(1)} y="88" textAnchor="middle" fontSize="19" fontWeight="600">
        {grams(step.remaining_kg)} g
      </text>
      <text x="2" y="88" fontSize="17">
        0
      </text>
    </svg>
  );
}
