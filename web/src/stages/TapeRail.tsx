/** The rail of stages, drawn as a measuring tape. Only stages that exist are on it. */
import { useEffect, useRef } from "react";
import { NavLink } from "react-router";
import type { Plan } from "../api/queries";

export const STAGES = [
  { name: "survey", title: "Survey", digit: "1" },
  { name: "measure", title: "Measure", digit: "2" },
  { name: "resin", title: "Resin", digit: "3" },
  { name: "layers", title: "Layers", digit: "4" },
  { name: "mix", title: "Mix", digit: "5" },
  { name: "clock", title: "Clock", digit: "6" },
  { name: "pour", title: "Pour", digit: "7" },
  { name: "finish", title: "Finish", digit: "8" },
  { name: "log", title: "Log", digit: "9" },
] as const;
export type StageName = (typeof STAGES)[number]["name"];

const MARK_WORDS = { settled: "settled", "needs you": "needs you", stops: "stops the job", later: "later" };

export function TapeRail({ plan, stage, pieceId }: { plan: Plan; stage: StageName; pieceId: number }) {
  const rail = useRef<HTMLElement>(null);
  useEffect(() => {
    // on a phone the tape is longer than the screen: the open stage comes into sight
    const open = rail.current?.querySelector<HTMLElement>("[aria-current=step]");
    if (rail.current && open)
      rail.current.scrollLeft = open.offsetLeft - (rail.current.clientWidth - open.offsetWidth) / 2;
  }, [stage]);
  return (
    <nav
      ref={rail}
      aria-label="Stages"
      className="tape relative self-start ml-5 w-[96px] max-sm:ml-0 max-sm:w-full max-sm:overflow-x-auto sticky top-0 z-10"
    >
      <div className="relative bg-tape border-x border-tape-ink min-h-[560px] max-sm:min-h-0 max-sm:border-x-0 max-sm:border-y max-sm:w-max max-sm:min-w-full">
        <Ticks />
        <ol className="relative flex flex-col gap-4 py-4 max-sm:flex-row max-sm:gap-0 max-sm:py-0">
          {STAGES.map(({ name, title, digit }) => {
            const state = plan.stages.find((one) => one.stage === name);
            const said = state?.reason && state.state !== "settled" ? state.reason : "";
            const here = name === stage;
            return (
              <li key={name}>
                <NavLink
                  to={`/pieces/${pieceId}/${name}`}
                  aria-current={here ? "step" : undefined}
                  aria-keyshortcuts={digit}
                  className={`group block relative -mx-2 py-2 pl-6 pr-1 min-h-[54px] rounded-[3px] max-sm:mx-0 max-sm:pl-3 max-sm:pr-7 max-sm:rounded-none max-sm:min-h-[40px] ${here ? "bg-spruce text-on-spruce" : "text-tape-ink"}`}
                >
                  <span className="block text-[15px] font-semibold leading-tight">
                    {state?.title || title}
                  </span>
                  <span
                    className={`block text-[12px] leading-tight max-sm:hidden ${here ? "" : "text-tape-slate"}`}
                  >
                    {state?.summary}
                  </span>
                  <span className="absolute right-1.5 top-2.5">
                    <StageMark state={state?.state ?? "later"} here={here} />
                  </span>
                  <span className="sr-only">
                    {MARK_WORDS[state?.state ?? "later"]}. {state?.reason}
                  </span>
                  {said ? (
                    <span
                      aria-hidden
                      className="hidden sm:group-hover:block sm:group-focus-visible:block absolute left-full top-1 ml-2 z-20 w-52 bg-paper text-ink border border-ink px-2.5 py-1.5 text-[13px] leading-snug"
                    >
                      {said}
                    </span>
                  ) : null}
                </NavLink>
              </li>
            );
          })}
        </ol>
      </div>
    </nav>
  );
}

function Ticks() {
  return (
    <svg className="absolute inset-0 w-full h-full max-sm:hidden" aria-hidden="true">
      <defs>
        <pattern id="ticks" width="20" height="50" patternUnits="userSpaceOnUse">
          <path
            d="M0 0.500h14M0 10.500h7M0 20.500h7M0 30.500h7M0 40.500h7"
            stroke="var(--tape-ink)"
            strokeWidth="0.8"
            opacity="0.7"
          />
        </pattern>
      </defs>
      <rect width="16" height="100%" fill="url(#ticks)" />
    </svg>
  );
}

function StageMark({ state, here }: { state: string; here: boolean }) {
  const colour = here ? "var(--on-spruce)" : state === "settled" ? "#1e5a50" : "#8f2f23";
  return (
    <svg width="16" height="14" fill="none" stroke={colour} strokeWidth="2" aria-hidden="true">
      {state === "settled" ? (
        <path d="M2 7l4 4 8-9" />
      ) : state === "needs you" ? (
        <path d="M8 1.500l6.500 11h-13z" strokeWidth="1.700" />
      ) : state === "stops" ? (
        <path d="M3 2l10 10M13 2L3 12" />
      ) : null}
    </svg>
  );
}
