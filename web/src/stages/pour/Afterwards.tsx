/** What was done before anybody entered it: when each pour was poured, as far as it is remembered. */
import { useState } from "react";
import { useNavigate } from "react-router";
import { useQueryClient } from "@tanstack/react-query";
import { enterRun } from "../../api/operations.generated";
import type { Plan } from "../../api/queries";
import { fromWall } from "../../domain/time";
import { useUnits } from "../../ui/session";

export function Afterwards({
  pieceId,
  plan,
  isOpen = false,
}: {
  pieceId: number;
  plan: Plan;
  isOpen?: boolean;
}) {
  const { zone } = useUnits();
  const navigate = useNavigate();
  const client = useQueryClient();
  const [times, setTimes] = useState<Record<number, string>>({});
  const [how, setHow] = useState<"goes on" | "finished" | "given up">("goes on");
  const [note, setNote] = useState("");
  const [problem, setProblem] = useState("");
  const poured = plan.pours
    .filter((one) => times[one.number])
    .map((one) => ({ pour: one.number, at: fromWall(times[one.number]!, zone) }));
  const keep = async () => {
    try {
      const run = await enterRun(pieceId, { poured, tests: [], how, note, ended_at: null });
      await client.invalidateQueries({ queryKey: ["runs"] });
      navigate(`/runs/${run.id}`);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <details
      key={String(isOpen)}
      open={isOpen}
      ref={(details) => {
        if (isOpen) details?.querySelector<HTMLInputElement>("input")?.focus();
      }}
      className="mt-5 border-t border-line pt-3"
    >
      <summary className="quiet">It was poured already: enter it</summary>
      <form
        className="grid gap-2 mt-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          void keep();
        }}
      >
        {plan.pours.map((one) => (
          <label key={one.number} className="block text-[13px] text-slate">
            {one.called} was poured ({zone})
            <input
              type="datetime-local"
              className="box"
              value={times[one.number] ?? ""}
              onChange={(event) => setTimes((now) => ({ ...now, [one.number]: event.target.value }))}
            />
          </label>
        ))}
        <label className="block text-[13px] text-slate">
          and now
          <select className="box" value={how} onChange={(event) => setHow(event.target.value as typeof how)}>
            <option value="goes on">it goes on: the next steps follow</option>
            <option value="finished">it is finished</option>
            <option value="given up">it was given up</option>
          </select>
        </label>
        <label className="block text-[13px] text-slate">
          what else is remembered
          <input
            className="box"
            maxLength={120}
            value={note}
            onChange={(event) => setNote(event.target.value)}
          />
        </label>
        {problem ? (
          <p role="alert" className="text-rust text-[13px]">
            {problem}
          </p>
        ) : null}
        <button className="key justify-self-start" disabled={!poured.length}>
          Keep it in the record
        </button>
      </form>
    </details>
  );
}
