/** Who is told: people in the order they are asked, the ways that reach them, and what became of each message. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import {
  endBrowser,
  orderListeners,
  readVoice,
  removeListener,
  tryListener,
} from "../../api/operations.generated";
import type { Schemas } from "../../api/client";
import { moment } from "../../domain/format";
import { useShop, useUnits } from "../../ui/session";
import { Waiting } from "../../ui/states";
import { KINDS, WAYS } from "./kinds";
import { PersonForm } from "./PersonForm";
import { Servers } from "./Servers";
import { ThisDevice } from "./ThisDevice";

type Listener = Schemas["ListenerAnswer"];
type Call = Schemas["CallAnswer"];

export function Told() {
  const { role } = useShop();
  const isMaker = role === "owner" || role === "maker";
  const found = useVoice(isMaker);
  if (isMaker && !found.data) return <Waiting error={found.error} what="who is told" />;
  return (
    <div className="px-7 py-5 max-sm:px-3 grid grid-cols-[minmax(0,1fr)_340px] gap-10 max-lg:block">
      <div>
        <h1 className="text-[34px] leading-tight">Who is told</h1>
        <p className="mt-1 max-w-[660px] text-[15px]">
          When a moment wants hands, the first person is told. If nobody taps “I have it”, the next is asked
          after at most 15 minutes, and everybody before the moment has gone by.
        </p>
        {isMaker && found.data ? (
          <People voice={found.data} />
        ) : (
          <p className="mt-3 text-slate">Makers and owners set here who is told, and by which ways.</p>
        )}
      </div>
      <aside className="border-l border-line pl-6 max-lg:border-l-0 max-lg:pl-0 max-lg:mt-8">
        <ThisDevice />
      </aside>
    </div>
  );
}

const useVoice = (enabled: boolean) =>
  useQuery({ queryKey: ["voice"], queryFn: () => readVoice(), refetchInterval: 20_000, enabled });

function People({ voice }: { voice: Schemas["VoiceAnswer"] }) {
  const client = useQueryClient();
  const { role } = useShop();
  const { zone } = useUnits();
  const [open, setOpen] = useState<number | "new" | null>(null);
  const [problem, setProblem] = useState("");
  const take = (answer: Schemas["VoiceAnswer"]) => {
    client.setQueryData(["voice"], answer);
    void client.invalidateQueries({ queryKey: ["calls"] });
    setOpen(null);
  };
  const doing = async (work: () => Promise<Schemas["VoiceAnswer"]>) => {
    setProblem("");
    try {
      take(await work());
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const ids = voice.people.map((one) => one.id);
  const up = (place: number) => {
    const order = [...ids];
    [order[place - 1], order[place]] = [order[place]!, order[place - 1]!];
    return doing(() => orderListeners({ ids: order }));
  };
  return (
    <>
      {voice.problem || problem ? (
        <p role="alert" className="text-rust mt-2">
          {problem || voice.problem}
        </p>
      ) : null}
      {voice.people.length ? (
        <ol className="rule mt-4">
          {voice.people.map((one, place) =>
            open === one.id ? (
              <li key={one.id}>
                <PersonForm listener={one} onClose={() => setOpen(null)} onSaved={take} />
              </li>
            ) : (
              <Person
                key={one.id}
                listener={one}
                place={place}
                onChange={() => setOpen(one.id)}
                onUp={place ? () => void up(place) : null}
                onOut={() => void doing(() => removeListener(one.id))}
                onBrowserOut={(id) => void doing(() => endBrowser(id))}
              />
            ),
          )}
        </ol>
      ) : open === "new" ? null : (
        <p className="mt-4 text-slate">Nobody yet: moments are shown and sound on open pages only.</p>
      )}
      {open === "new" ? (
        <PersonForm listener={null} onClose={() => setOpen(null)} onSaved={take} />
      ) : (
        <p className="mt-3">
          <button className="key" onClick={() => setOpen("new")}>
            Add a person
          </button>
        </p>
      )}
      <details className="mt-6" open={voice.people.some((one) => one.problem)}>
        <summary className="quiet">Mail server and broker</summary>
        {role === "owner" ? (
          <Servers voice={voice} onSaved={take} />
        ) : (
          <p className="text-slate mt-1">The owner of the workshop sets them.</p>
        )}
      </details>
      <h2 className="mt-6">Told lately</h2>
      {voice.recent.length ? (
        <ul className="rule">
          {voice.recent.map((one) => (
            <Row key={one.id} call={one} zone={zone} />
          ))}
        </ul>
      ) : (
        <p className="text-slate">Nothing yet.</p>
      )}
    </>
  );
}

const wall = (minutes: number) =>
  `${String(Math.floor(minutes / 60)).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`;

function Person({
  listener,
  place,
  onChange,
  onUp,
  onOut,
  onBrowserOut,
}: {
  listener: Listener;
  place: number;
  onChange: () => void;
  onUp: (() => void) | null;
  onOut: () => void;
  onBrowserOut: (id: number) => void;
}) {
  const { ways, browsers } = listener;
  const person = listener.person as Required<Schemas["Person"]>; // an answer names all
  const [tried, setTried] = useState("");
  const reached = [
    person.mail ? `mail to ${person.mail}` : "",
    person.topic ? `MQTT ${person.topic}` : "",
    person.hook_host ? `webhook at ${person.hook_host}` : "",
  ].filter(Boolean);
  const kinds = person.kinds.length
    ? KINDS.filter(([kind]) => person.kinds.includes(kind)).map(([, words]) => words)
    : ["every moment"];
  const attempt = async () => {
    setTried("Sending …");
    try {
      const answer = await tryListener(listener.id);
      setTried(answer.tried.map((one) => `${WAYS[one.way]}: ${one.problem || "sent"}`).join(" · "));
    } catch (error) {
      setTried((error as Error).message);
    }
  };
  return (
    <li className="py-3 grid items-start grid-cols-[28px_1fr_auto] max-sm:grid-cols-[28px_1fr] gap-x-3">
      <span className="text-slate tabular-nums text-[17px]">{place + 1}</span>
      <div className="min-w-0">
        <b className="font-semibold text-[16px]">{person.name}</b>{" "}
        {ways.length ? (
          <span>{reached.join(", ")}</span>
        ) : (
          <b className="text-rust font-semibold">no way reaches them yet</b>
        )}
        {browsers.map((one) => (
          <span key={one.id} className="block text-[13.5px]">
            messages to {one.name || "a browser"}{" "}
            <button
              className="quiet"
              aria-label={`No more messages to ${one.name}`}
              onClick={() => onBrowserOut(one.id)}
            >
              end
            </button>
          </span>
        ))}
        <span className="block text-[13.5px] text-slate">
          {kinds.join("; ")}
          {person.quiet ? `. Quiet from ${wall(person.quiet.from_min)} to ${wall(person.quiet.to_min)}` : ""}.
        </span>
        {listener.problem ? (
          <span role="alert" className="block text-rust text-[13.5px]">
            {listener.problem}
          </span>
        ) : null}
        {tried ? (
          <span role="status" className="block text-[13.5px] font-medium">
            {tried}
          </span>
        ) : null}
      </div>
      <span className="flex flex-wrap gap-x-4 max-sm:col-start-2">
        {ways.length ? (
          <button className="quiet" onClick={() => void attempt()}>
            Send one to try
          </button>
        ) : null}
        {onUp ? (
          <button className="quiet" onClick={onUp} aria-label={`Ask ${person.name} sooner`}>
            Sooner
          </button>
        ) : null}
        <button className="quiet" onClick={onChange}>
          Change
        </button>
        <button className="quiet" onClick={onOut}>
          Remove
        </button>
      </span>
    </li>
  );
}

const STATES: Record<string, string> = { "tried again": "not yet through", failed: "did not go out" };

/** One moment: who was told when, and who has it. */
export function Row({ call, zone }: { call: Call; zone: string }) {
  return (
    <li className="py-2 text-[14px]">
      <b className="font-semibold">{call.title}</b>, {moment(call.at, zone)}.{" "}
      {call.answered_at ? (
        <span className="text-spruce font-semibold">
          {call.answered_by} has it since {moment(call.answered_at, zone)}.
        </span>
      ) : call.is_over ? (
        <span className="text-slate">Over; nobody said that they have it.</span>
      ) : (
        <b className="text-rust font-semibold">Nobody has it yet.</b>
      )}
      <ul className="text-[13px] text-slate">
        {call.sent.map((one, index) => (
          <li key={index}>
            {one.person}, {WAYS[one.way]}, {moment(one.at, zone)}
            {one.late_s >= 120 ? `, ${Math.round(one.late_s / 60)} min late` : ""}
            {STATES[one.state] ? (
              <b className="text-rust font-semibold">
                {" "}
                {STATES[one.state]}: {one.why}
              </b>
            ) : one.state === "sent" ? (
              ""
            ) : (
              ", on its way"
            )}
          </li>
        ))}
      </ul>
    </li>
  );
}
