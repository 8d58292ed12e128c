/** What the plan says, in three weights: a word and a shape, never colour alone. */
import type { Schemas } from "../api/client";

type Verdict = Schemas["Verdict"];
const WORDS = { blocker: "Stops the job", warning: "Needs care", note: "Good to know" };

export function Verdicts({
  verdicts,
  stage,
  title = "What it says",
}: {
  verdicts: Verdict[];
  stage?: string | undefined;
  title?: string;
}) {
  const here = verdicts.filter(
    (one) =>
      !stage ||
      one.stage === stage ||
      one.weight === "blocker" ||
      (stage === "resin" && one.stage === "survey"),
  );
  if (here.length === 0) return null;
  return (
    <section aria-label={title} className="mt-4">
      <h2>{title}</h2>
      <ul className="rule mt-1">
        {here.map((verdict, index) => (
          <li key={index} className="grid grid-cols-[20px_1fr] gap-2 py-2 text-[13.5px]">
            <Shape weight={verdict.weight} />
            <div>
              <b className="font-semibold">{verdict.title}. </b>
              {verdict.text} {verdict.todo ? <span className="font-medium">{verdict.todo}</span> : null}
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** The usual cautions: they stand wherever resin is handled. */
export function Cautions({ cautions }: { cautions: string[] }) {
  if (!cautions.length) return null;
  return (
    <section aria-label="With care" className="mt-4">
      <h2>With care</h2>
      {cautions.map((caution) => (
        <p key={caution} className="mt-1 text-[13px]">
          {caution}
        </p>
      ))}
    </section>
  );
}

export function Shape({ weight }: { weight: Verdict["weight"] }) {
  return (
    <svg
      width="18"
      height="18"
      role="img"
      aria-label={WORDS[weight]}
      className="mt-0.5"
      fill="none"
      strokeWidth="1.8"
    >
      {weight === "blocker" ? (
        <g className="stroke-rust">
          <path d="M6 1.500h6l4.500 4.500v6L12 16.500H6L1.500 12V6z" />
          <path d="M5.500 5.500l7 7M12.500 5.500l-7 7" />
        </g>
      ) : weight === "warning" ? (
        <g className="stroke-rust">
          <path d="M9 1.500l8 14.500H1z" />
          <path d="M9 6.500v4.500M9 13v1.300" />
        </g>
      ) : (
        <g className="stroke-spruce">
          <circle cx="9" cy="9" r="7" />
          <path d="M9 8v5M9 4.600v1.600" />
        </g>
      )}
    </svg>
  );
}
