/** The readiness list on paper: steps with their waits, the last walk round the bench, cautions. */
import { useParams } from "react-router";
import { usePiece, usePlan } from "../../api/queries";
import { text } from "../../domain/format";
import { useUnits } from "../../ui/session";
import { Waiting } from "../../ui/states";

export function ReadySheet() {
  const id = Number(useParams().id);
  const { units } = useUnits();
  const stored = usePiece(id);
  const plan = usePlan(id, stored.data?.revision);
  if (!stored.data || !plan.data) return <Waiting error={stored.error ?? plan.error} what="the list" />;
  const { survey, cautions, totals } = plan.data;
  return (
    <article className="max-w-[760px] mx-auto px-6 py-5 print:p-0">
      <p className="no-print flex gap-4 mb-3">
        <button className="key" onClick={() => window.print()}>
          Print
        </button>
        <a className="quiet self-center" href={`/pieces/${id}/survey`}>
          Back to the piece
        </a>
      </p>
      <h1 className="text-[26px]">{stored.data.piece.name}: ready to mix</h1>
      <p className="text-slate">
        {[
          stored.data.piece.kind_of_work,
          totals.mass
            ? `${text(totals.mass.value, "mass", units)} to weigh in ${totals.batches} ${totals.batches === 1 ? "batch" : "batches"}`
            : "",
        ]
          .filter(Boolean)
          .join(" · ")}
      </p>
      {survey?.steps.length ? (
        <>
          <h2 className="mt-4">Before mixing</h2>
          <ul>
            {survey.steps.map((step) => (
              <Tick key={step.code} done={step.is_done ?? false}>
                <b>{step.title}.</b> {step.text}
                {step.wait_from_s ? <b> Wait {text(step.wait_from_s, "duration", units)}.</b> : null}
              </Tick>
            ))}
          </ul>
        </>
      ) : null}
      <h2 className="mt-4">The last walk round the bench</h2>
      <ul>
        {(survey?.ready ?? []).map((item) => (
          <Tick key={item.code} done={item.is_done}>
            {item.text}
          </Tick>
        ))}
      </ul>
      {cautions.length ? (
        <>
          <h2 className="mt-4">With care</h2>
          {cautions.map((caution) => (
            <p key={caution} className="mt-1 text-[14px]">
              {caution}
            </p>
          ))}
        </>
      ) : null}
    </article>
  );
}

function Tick({ done, children }: { done: boolean; children: React.ReactNode }) {
  return (
    <li className="flex gap-3 items-start py-1.5 text-[15px] border-b border-line">
      <span
        aria-label={done ? "done" : "open"}
        role="img"
        className="inline-block w-5 h-5 border-[1.5px] border-ink shrink-0 mt-0.5 text-center leading-4"
      >
        {done ? "✓" : ""}
      </span>
      <span>{children}</span>
    </li>
  );
}
