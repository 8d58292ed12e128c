/** Moments that somebody was told of and nobody has in hand yet: on the bench, with the key that ends it. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answerCall, readCalls } from "../../api/operations.generated";
import type { Schemas } from "../../api/client";
import { remember, remembered } from "../../api/memory";
import { moment } from "../../domain/format";
import { useShop, useUnits } from "../../ui/session";
import { WAYS } from "./kinds";

/** Who was told by which way and when, and why not where it failed. */
function wordsOf(sent: Schemas["SendingAnswer"], zone: string): string {
  const said = `${sent.person} by ${WAYS[sent.way]} ${moment(sent.at, zone)}`;
  return sent.state === "sent" ? said : `${said}: ${sent.why || sent.state}`;
}

export function Unanswered() {
  const client = useQueryClient();
  const { zone } = useUnits();
  const { role, how, who } = useShop();
  const found = useQuery({ queryKey: ["calls"], queryFn: () => readCalls(), refetchInterval: 20_000 });
  const [name, setName] = useState(() => remembered("device", "cavatum-name") ?? "");
  const [problem, setProblem] = useState("");
  const calls = found.data?.calls ?? [];
  if (!calls.length) return null;
  const mine = how === "entry" ? who : name;
  const have = async (id: number) => {
    setProblem("");
    try {
      const answer = await answerCall(id, { who: mine });
      if (mine) remember("device", "cavatum-name", mine);
      if (mine && answer.answered_by !== mine) setProblem(`${answer.answered_by} had it already.`);
    } catch (error) {
      setProblem((error as Error).message);
    }
    await client.invalidateQueries({ queryKey: ["calls"] });
  };
  return (
    <section aria-label="Nobody has answered" className="px-7 py-3 border-b border-line max-sm:px-3">
      <h2>Nobody has answered</h2>
      <ul className="rule">
        {calls.map((one) => (
          <li key={one.id} className="py-2 flex flex-wrap gap-x-5 gap-y-1 items-center">
            <span className="flex-1 min-w-[260px]">
              <Link to={one.run_id ? `/runs/${one.run_id}` : `/pieces/${one.piece_id}/clock`}>
                <b className="font-semibold text-[16px]">{one.title}</b>
              </Link>
              , since {moment(one.at, zone)}
              {one.latest ? `, until ${moment(one.latest, zone)}` : ""}.{" "}
              <span className="text-slate text-[13.5px]">
                {one.sent.map((sent) => wordsOf(sent, zone)).join("; ")}
              </span>
            </span>
            {role === "viewer" ? null : (
              <>
                {how === "entry" ? null : (
                  <input
                    className="box w-[130px]!"
                    aria-label="Your name"
                    placeholder="your name"
                    maxLength={80}
                    value={name}
                    onChange={(event) => setName(event.target.value)}
                  />
                )}
                <button className="key" onClick={() => void have(one.id)}>
                  I have it
                </button>
              </>
            )}
          </li>
        ))}
      </ul>
      {problem ? (
        <p role="status" className="text-[14px] font-medium">
          {problem}
        </p>
      ) : null}
    </section>
  );
}
