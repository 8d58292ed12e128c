/** How a stage lies on the page: its own question in the middle, what it says beside it, the section and the clock in
 *  sight under it. On a phone the section comes first. */
import type { ReactNode } from "react";
import { Strip } from "./Strip";

interface Props {
  question: string;
  /** beside the question: a link, a print key */
  tools?: ReactNode;
  /** what the stage says; none: the middle has the whole width */
  side?: ReactNode;
  strip?: "both" | "section" | "none";
  /** on a phone what is asked comes before what is drawn */
  sideFirst?: boolean;
  children: ReactNode;
}

export function Spread({ question, tools, side, strip = "both", sideFirst, children }: Props) {
  return (
    <div className={`grid max-lg:grid-cols-1 ${side ? "grid-cols-[minmax(0,1fr)_312px]" : "grid-cols-1"}`}>
      <section aria-label={question} className="min-w-0 px-6 pb-4 max-sm:px-3 flex flex-col">
        <div className="mt-1 flex flex-wrap justify-between items-baseline gap-x-4">
          <h2 className="text-[22px]">{question}</h2>
          {tools}
        </div>
        {children}
        {strip === "none" ? null : <Strip which={strip} />}
      </section>
      {side ? (
        <aside
          aria-label="What it says"
          className={`border-l border-line px-5 pb-6 max-lg:border-l-0 max-lg:border-t max-sm:px-3 ${sideFirst ? "max-sm:order-first" : ""}`}
        >
          {side}
        </aside>
      ) : null}
    </div>
  );
}
