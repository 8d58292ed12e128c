/** The section and the clock, small, under the work of every other stage; either grows at a tap, `s` or `c`. */
import { useEffect, useRef } from "react";
import { ClockRibbon } from "../drawing/ClockRibbon";
import { LittleSection } from "../drawing/LittleSection";
import { isTyping } from "../ui/Frame";
import { useUnits } from "../ui/session";
import { useDrawn } from "./drawn";
import { BigClock, BigSection } from "./Drawings";

const TALL = 104;

export function Strip({ which }: { which: "both" | "section" }) {
  const { plan, voidId, stored, grown, grow, from, to, cursor } = useDrawn();
  const section = plan.sections.find((one) => one.void_id === voidId);
  const { zone } = useUnits();
  const clock = which === "both" ? plan.clock : null;
  const shown = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (grown) shown.current?.scrollIntoView({ block: "nearest" });
  }, [grown]);
  // Here and not for the whole workspace: where both are large already there is nothing to grow.
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || document.querySelector("[role=dialog]")) return;
      const which = ({ s: "section", c: "clock" } as const)[event.key.toLowerCase()];
      if (which) grow(grown === which ? null : which);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [grown, grow]);
  if (!section && !clock) return null;
  return (
    <section
      aria-label="Section and clock"
      className={`border-t border-ink mt-5 pt-1 bg-paper max-sm:order-first max-sm:border-t-0 max-sm:mt-0 ${grown ? "" : "sticky bottom-0 max-sm:static"}`}
    >
      <div
        className={`grid gap-x-6 max-sm:grid-cols-1 ${section && clock ? "grid-cols-[minmax(180px,280px)_minmax(0,1fr)]" : grown ? "grid-cols-1" : "grid-cols-[minmax(0,280px)]"}`}
      >
        {section ? (
          <Part name="section" title="Section" digit="s" isGrown={grown === "section"} grow={grow}>
            <LittleSection
              plan={plan}
              section={section}
              tint={stored.piece.tint ?? "#D39A3C"}
              cursor={plan.clock ? cursor : null}
              tall={TALL}
            />
          </Part>
        ) : null}
        {clock ? (
          <Part name="clock" title="Clock" digit="c" isGrown={grown === "clock"} grow={grow}>
            <div className="max-sm:hidden">
              <ClockRibbon
                slim
                from={from}
                to={to}
                zone={zone}
                away={clock.away}
                rows={clock.rows}
                cursor={cursor}
                rowHeight={Math.min(26, (TALL - 24) / Math.max(clock.rows.length, 1))}
              />
            </div>
          </Part>
        ) : null}
      </div>
      {grown ? (
        <div ref={shown} className="border-t border-line pt-2" role="region" aria-label={`${grown}, large`}>
          {grown === "section" ? <BigSection /> : <BigClock />}
        </div>
      ) : null}
    </section>
  );
}

interface PartProps {
  name: "section" | "clock";
  title: string;
  digit: string;
  isGrown: boolean;
  grow: (which: "section" | "clock" | null) => void;
  children: React.ReactNode;
}

function Part({ name, title, digit, isGrown, grow, children }: PartProps) {
  return (
    <div className="min-w-0">
      <button
        className="quiet text-[13px] no-print"
        aria-expanded={isGrown}
        aria-keyshortcuts={digit}
        onClick={() => grow(isGrown ? null : name)}
      >
        {title}, {isGrown ? "smaller" : "larger"}
      </button>
      {isGrown ? null : children}
    </div>
  );
}
