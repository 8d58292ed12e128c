/** The workshop's mail server and broker. Passwords go in and never come out again. */
import { useState, type FormEvent } from "react";
import { keepVoiceSettings } from "../../api/operations.generated";
import type { Schemas } from "../../api/client";

type Voice = Schemas["VoiceAnswer"];
type Secure = NonNullable<Schemas["MailServer"]["secure"]>;
const SECURE: [Secure, string][] = [
  ["after a word", "STARTTLS, usually port 587"],
  ["from the first byte", "TLS, usually port 465"],
  ["not at all", "none: only for a server on this computer, without a password"],
];

export function Servers({ voice, onSaved }: { voice: Voice; onSaved: (answer: Voice) => void }) {
  const [mail, setMail] = useState(voice.mail as Required<Schemas["MailServer"]>);
  const [broker, setBroker] = useState(voice.broker as Required<Schemas["BrokerServer"]>);
  const [local, setLocal] = useState(voice.local);
  const [mailPassword, setMailPassword] = useState("");
  const [brokerPassword, setBrokerPassword] = useState("");
  const [says, setSays] = useState("");
  const save = async (event: FormEvent) => {
    event.preventDefault();
    setSays("");
    try {
      onSaved(
        await keepVoiceSettings({
          mail,
          broker,
          local,
          contact: voice.contact,
          mail_password: mailPassword,
          broker_password: brokerPassword,
        }),
      );
      setMailPassword("");
      setBrokerPassword("");
      setSays("Saved.");
    } catch (error) {
      setSays((error as Error).message);
    }
  };
  return (
    <form onSubmit={(event) => void save(event)} className="grid gap-5 mt-2 max-w-[760px]">
      <fieldset className="grid grid-cols-[2fr_100px_2fr] max-sm:grid-cols-1 gap-3">
        <legend className="font-semibold mb-1">Mail server</legend>
        <Field label="server" value={mail.host} onValue={(host) => setMail({ ...mail, host })} />
        <Port value={mail.port} onValue={(port) => setMail({ ...mail, port })} />
        <Field
          label="sent from, a mail address"
          value={mail.sender}
          onValue={(sender) => setMail({ ...mail, sender })}
        />
        <Field label="user, may be empty" value={mail.user} onValue={(user) => setMail({ ...mail, user })} />
        <label className="grid text-[13px] text-slate col-span-2 max-sm:col-span-1">
          encryption
          <select
            className="box"
            value={mail.secure}
            onChange={(event) => setMail({ ...mail, secure: event.target.value as Secure })}
          >
            {SECURE.map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
        </label>
        <Secret kept={voice.has_mail_password} value={mailPassword} onValue={setMailPassword} />
      </fieldset>
      <fieldset className="grid grid-cols-[2fr_100px_2fr] max-sm:grid-cols-1 gap-3">
        <legend className="font-semibold mb-1">MQTT broker</legend>
        <Field label="server" value={broker.host} onValue={(host) => setBroker({ ...broker, host })} />
        <Port value={broker.port} onValue={(port) => setBroker({ ...broker, port })} />
        <Field
          label="user, may be empty"
          value={broker.user}
          onValue={(user) => setBroker({ ...broker, user })}
        />
        <label className="flex gap-1.5 items-center">
          <input
            type="checkbox"
            checked={broker.secure}
            onChange={(event) => setBroker({ ...broker, secure: event.target.checked })}
          />
          over TLS
        </label>
        <span className="max-sm:hidden" />
        <Secret kept={voice.has_broker_password} value={brokerPassword} onValue={setBrokerPassword} />
      </fieldset>
      <label className="flex gap-2 items-start">
        <input
          type="checkbox"
          className="mt-1"
          checked={local}
          disabled={!voice.may_change_local}
          onChange={(event) => setLocal(event.target.checked)}
        />
        <span>
          Messages may go to this house's own network, such as a broker or a mail server at home.
          {voice.may_change_local ? "" : " This is set at the computer that Cavatum runs on."}
        </span>
      </label>
      <p className="flex gap-4 items-center">
        <button className="key">Save</button>
        <span role="status">{says}</span>
      </p>
    </form>
  );
}

function Field({
  label,
  value,
  onValue,
}: {
  label: string;
  value: string;
  onValue: (value: string) => void;
}) {
  return (
    <label className="grid text-[13px] text-slate">
      {label}
      <input
        className="box"
        maxLength={254}
        value={value}
        onChange={(event) => onValue(event.target.value.trim())}
      />
    </label>
  );
}

function Port({ value, onValue }: { value: number; onValue: (value: number) => void }) {
  return (
    <label className="grid text-[13px] text-slate">
      port
      <input
        className="box"
        type="number"
        min={1}
        max={65535}
        value={value}
        onChange={(event) => onValue(Number(event.target.value))}
      />
    </label>
  );
}

function Secret({
  kept,
  value,
  onValue,
}: {
  kept: boolean;
  value: string;
  onValue: (value: string) => void;
}) {
  return (
    <label className="grid text-[13px] text-slate">
      {kept ? "password, one is kept" : "password"}
      <input
        className="box"
        type="password"
        autoComplete="new-password"
        maxLength={400}
        placeholder={kept ? "stays as it is" : ""}
        value={value}
        onChange={(event) => onValue(event.target.value)}
      />
    </label>
  );
}
