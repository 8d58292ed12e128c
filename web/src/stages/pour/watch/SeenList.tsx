/** What a camera saw, with the pictures and the marks on them; somebody who looked can say that there was nothing. */
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { callSeenWrong } from "../../../api/operations.generated";
import type { Schemas } from "../../../api/client";
import { moment } from "../../../domain/format";
import { Marked } from "../../../ui/Marked";

export function SeenList({
  watch,
  zone,
  canSay,
}: {
  watch: Schemas["WatchAnswer"];
  zone: string;
  canSay: boolean;
}) {
  const client = useQueryClient();
  const [problem, setProblem] = useState("");
  const wrong = async (id: number) => {
    setProblem("");
    try {
      await callSeenWrong(id);
      await client.invalidateQueries({ queryKey: ["watches", watch.run_id] });
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <>
      {problem ? (
        <p role="alert" className="text-rust">
          {problem}
        </p>
      ) : null}
      <ul className="rule" aria-label="Seen by the camera">
        {[...watch.seen].reverse().map((one) => (
          <li
            key={one.id}
            className="py-2 grid grid-cols-[200px_1fr] gap-4 items-start max-sm:grid-cols-[120px_1fr]"
          >
            <Marked
              src={`/api/v1/watches/${watch.id}/frames/${one.number}.jpg`}
              size={watch.told.size_px}
              marks={one.marks}
              alt={one.words}
              className="w-full"
            />
            <div>
              <p className={`text-[16px] font-semibold ${one.wrong_at ? "line-through text-slate" : ""}`}>
                {one.words}.
              </p>
              <p className="text-[13.5px] text-slate">
                {moment(one.at, zone)}
                {one.sure ? "" : ", not quite sure"}
              </p>
              {one.wrong_at ? (
                <p className="text-[13.5px]">
                  {one.wrong_by} looked {moment(one.wrong_at, zone)}: nothing there.
                </p>
              ) : canSay ? (
                <button className="quiet" onClick={() => void wrong(one.id)}>
                  I looked: nothing there
                </button>
              ) : null}
            </div>
          </li>
        ))}
      </ul>
    </>
  );
}
