/** One person who is told: their ways, what they want to hear of, their hours of quiet. */
import { useState, type FormEvent } from "react";
import { addListener, changeListener } from "../../api/operations.generated";
import type { Schemas } from "../../api/client";
import { AT_FIRST, KINDS, type CallKind } from "./kinds";

const wall = (minutes: number | undefined) =>
  minutes === undefined
    ? ""
    : `${String(Math.floor(minutes / 60)).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`;
const minutesOf = (text: string) => {
  const [hours, minutes] = text.split(":").map(Number);
  return text && hours !== undefined && minutes !== undefined ? hours * 60 + minutes : null;
};

export function PersonForm({
  listener,
  onClose,
  onSaved,
}: {
  listener: Schemas["ListenerAnswer"] | null;
  onClose: () => void;
  onSaved: (answer: Schemas["VoiceAnswer"]) => void;
}) {
  const person = listener?.person as Required<Schemas["Person"]> | undefined; // an answer names all
  const [name, setName] = useState(person?.name ?? "");
  const [kinds, setKinds] = useState<CallKind[]>(
    person ? (person.kinds.length ? person.kinds : KINDS.map(([kind]) => kind)) : AT_FIRST,
  );
  const [from, setFrom] = useState(wall(person ? person.quiet?.from_min : 1320));
  const [to, setTo] = useState(wall(person ? person.quiet?.to_min : 420));
  const [mail, setMail] = useState(person?.mail ?? "");
  const [topic, setTopic] = useState(person?.topic ?? "");
  const [hook, setHook] = useState("");
  const [secret, setSecret] = useState("");
  const [drop, setDrop] = useState(false);
  const [problem, setProblem] = useState("");
  const save = async (event: FormEvent) => {
    event.preventDefault();
    setProblem("");
    const body = {
      name,
      kinds: kinds.length === KINDS.length ? [] : kinds,
      quiet_from_min: minutesOf(from),
      quiet_to_min: minutesOf(to),
      mail,
      topic,
      hook,
      hook_secret: secret,
      drop_hook: drop,
    };
    try {
      onSaved(listener ? await changeListener(listener.id, body) : await addListener(body));
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const toggle = (kind: CallKind) =>
    setKinds((now) => (now.includes(kind) ? now.filter((one) => one !== kind) : [...now, kind]));
  return (
    <form className="grid gap-3 max-w-[640px] py-3" onSubmit={(event) => void save(event)}>
      <label className="grid text-[13px] text-slate max-w-[320px]">
        name
        <input
          className="box"
          required
          maxLength={80}
          autoFocus
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <fieldset>
        <legend className="text-[13px] text-slate">tell them of</legend>
        <span className="flex flex-wrap gap-x-5 gap-y-1 mt-0.5">
          {KINDS.map(([kind, words]) => (
            <label key={kind} className="flex gap-1.5 items-center min-h-8">
              <input type="checkbox" checked={kinds.includes(kind)} onChange={() => toggle(kind)} />
              {words}
            </label>
          ))}
        </span>
      </fieldset>
      <div className="flex flex-wrap gap-4">
        <label className="grid text-[13px] text-slate">
          quiet from
          <input type="time" className="box" value={from} onChange={(event) => setFrom(event.target.value)} />
        </label>
        <label className="grid text-[13px] text-slate">
          to
          <input type="time" className="box" value={to} onChange={(event) => setTo(event.target.value)} />
        </label>
        <p className="text-[13px] text-slate max-w-[300px] self-end">
          Only smoke, a leak or a cup that has to be emptied at once breaks the quiet. Empty: none.
        </p>
      </div>
      <label className="grid text-[13px] text-slate max-w-[420px]">
        mail address
        <input
          className="box"
          type="email"
          maxLength={254}
          value={mail}
          onChange={(event) => setMail(event.target.value)}
        />
      </label>
      <details open={!!(topic || person?.hook_host)}>
        <summary className="quiet">House control: MQTT topic, webhook</summary>
        <div className="grid gap-3 mt-2">
          <label className="grid text-[13px] text-slate max-w-[420px]">
            MQTT topic
            <input
              className="box"
              maxLength={200}
              placeholder="workshop/cavatum"
              value={topic}
              onChange={(event) => setTopic(event.target.value)}
            />
          </label>
          <label className="grid text-[13px] text-slate max-w-[520px]">
            webhook{person?.hook_host ? `, now at ${person.hook_host}` : ""}
            <input
              className="box"
              maxLength={2000}
              placeholder={person?.hook_host ? "stays as it is" : "https://"}
              value={hook}
              disabled={drop}
              onChange={(event) => setHook(event.target.value)}
            />
          </label>
          <label className="grid text-[13px] text-slate max-w-[420px]">
            its secret, to sign each message with; may be empty
            <input
              className="box"
              type="password"
              autoComplete="new-password"
              maxLength={200}
              value={secret}
              disabled={drop || !hook}
              onChange={(event) => setSecret(event.target.value)}
            />
          </label>
          {person?.hook_host ? (
            <label className="flex gap-1.5 items-center">
              <input type="checkbox" checked={drop} onChange={(event) => setDrop(event.target.checked)} />
              remove the webhook
            </label>
          ) : null}
        </div>
      </details>
      {problem ? (
        <p role="alert" className="text-rust">
          {problem}
        </p>
      ) : null}
      <p className="flex gap-4">
        <button className="key" disabled={!kinds.length}>
          {listener ? "Save" : "Add"}
        </button>
        <button type="button" className="quiet" onClick={onClose}>
          Never mind
        </button>
      </p>
    </form>
  );
}
