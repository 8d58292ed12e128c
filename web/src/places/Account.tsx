/** One's own account: the browsers one is in with, passkeys, the password, the workshop one is in. */
import { forgetAnswers } from "../api/kept";
import {
  askPasskey,
  changePassword,
  endEntry,
  endOtherEntries,
  keepPasskey,
  logOut,
  readAccount,
  removePasskey,
  switchWorkshop,
} from "../api/operations.generated";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { date } from "../domain/format";
import { askToMake } from "../domain/passkeys";
import { Password } from "../ui/Password";
import { useShop, useUnits } from "../ui/session";
import { Waiting } from "../ui/states";

export function Account() {
  const client = useQueryClient();
  const { zone } = useUnits();
  const { how } = useShop();
  const found = useQuery({
    queryKey: ["account"],
    queryFn: () => readAccount(),
    enabled: how === "entry",
  });
  const [said, setSaid] = useState("");
  const [problem, setProblem] = useState("");
  if (how !== "entry")
    return (
      <p className="px-7 py-6 text-[15px]">
        {how === "bench"
          ? "This device is paired for the bench and needs no account."
          : "On this computer's own address nobody has to log in."}
      </p>
    );
  if (!found.data) return <Waiting error={found.error} what="your account" />;
  const me = found.data;
  const doing = async (what: () => Promise<unknown>, done = "") => {
    setProblem("");
    setSaid("");
    try {
      await what();
      setSaid(done);
    } catch (error) {
      setProblem((error as Error).message);
    }
    await client.invalidateQueries({ queryKey: ["account"] });
  };
  const addPasskey = () =>
    doing(async () => {
      const { options } = await askPasskey();
      await keepPasskey({
        credential: await askToMake(options),
        name: device(navigator.userAgent),
      });
    }, "The passkey is kept. Next time the password is not needed on this device.");
  const leave = async () => {
    await logOut();
    await forgetAnswers();
    window.location.replace("/");
  };
  return (
    <div className="px-7 py-5 max-sm:px-3 max-w-[860px]">
      <h1 className="text-[34px] leading-tight">{me.name}</h1>
      <p className="mt-1 text-[15px]">
        {me.email}{" "}
        <button className="key ml-4" onClick={() => void leave()}>
          Log out
        </button>
      </p>
      {problem ? (
        <p role="alert" className="text-rust mt-2">
          {problem}
        </p>
      ) : null}
      {said ? (
        <p role="status" className="text-spruce mt-2">
          {said}
        </p>
      ) : null}
      {me.workshops.length > 1 ? (
        <>
          <h2 className="mt-6">Workshops</h2>
          <ul className="rule">
            {me.workshops.map((one) => (
              <li key={one.id} className="py-2 flex gap-5 items-center">
                <span className="flex-1">
                  <b className="font-semibold">{one.name}</b>{" "}
                  <span className="text-slate">as {one.role}</span>
                </span>
                {one.is_this ? (
                  <span className="text-slate">you are in it</span>
                ) : (
                  <button
                    className="quiet"
                    onClick={() =>
                      void switchWorkshop({ workshop_id: one.id }).then(() => window.location.replace("/"))
                    }
                  >
                    Change to it
                  </button>
                )}
              </li>
            ))}
          </ul>
        </>
      ) : null}
      <h2 className="mt-6">Browsers you are in with</h2>
      <ul className="rule" aria-label="Browsers">
        {me.entries.map((one) => (
          <li key={one.id} className="py-2 flex flex-wrap gap-x-5 items-center">
            <span className="flex-1 max-sm:min-w-full">
              <b className="font-semibold">{device(one.agent)}</b>
              {one.is_this ? " (this one)" : ""}
            </span>
            <span className="text-slate">
              in since {date(one.made_at, zone)}, seen {date(one.seen_at, zone)}
            </span>
            {one.is_this ? null : (
              <button className="quiet" onClick={() => void doing(() => endEntry(one.id))}>
                Log out
              </button>
            )}
          </li>
        ))}
      </ul>
      {me.entries.length > 1 ? (
        <button
          className="quiet mt-1"
          onClick={() => void doing(() => endOtherEntries(), "Only this browser is in now.")}
        >
          Log out everywhere else
        </button>
      ) : null}
      <h2 className="mt-6">Passkeys</h2>
      <p className="text-[14px]">
        A passkey stays on the device and is opened by its finger, face or code; nothing can be guessed or
        read over a shoulder.
      </p>
      <ul className="rule" aria-label="Passkeys">
        {me.passkeys.map((one) => (
          <li key={one.id} className="py-2 flex flex-wrap gap-x-5 items-center">
            <span className="flex-1">
              <b className="font-semibold">{one.name || "a device"}</b>
            </span>
            <span className="text-slate">
              {one.used_at ? `used ${date(one.used_at, zone)}` : `made ${date(one.made_at, zone)}`}
            </span>
            <button className="quiet" onClick={() => void doing(() => removePasskey(one.id))}>
              Remove
            </button>
          </li>
        ))}
      </ul>
      {me.can_passkey && "PublicKeyCredential" in window ? (
        <button className="quiet mt-1" onClick={() => void addPasskey()}>
          Make one on this device
        </button>
      ) : (
        <p className="text-slate text-[14px]">
          Here none can be made: open Cavatum by the computer's name instead of its number.
        </p>
      )}
      <NewPassword
        onDone={(what) => doing(what, "Password changed; other browsers were logged out.")}
        email={me.email}
      />
    </div>
  );
}

function NewPassword({
  onDone,
  email,
}: {
  onDone: (what: () => Promise<unknown>) => Promise<void>;
  email: string;
}) {
  const [password, setPassword] = useState("");
  const [next, setNext] = useState("");
  const change = async (event: FormEvent) => {
    event.preventDefault();
    await onDone(() => changePassword({ password, new_password: next }));
    setPassword("");
    setNext("");
  };
  return (
    <>
      <h2 className="mt-6">Password</h2>
      <form className="mt-1 flex flex-wrap gap-4 items-end" onSubmit={(event) => void change(event)}>
        <input type="hidden" autoComplete="username" value={email} readOnly />
        <Password
          small
          label="Current password"
          autoComplete="current-password"
          value={password}
          onChange={setPassword}
        />
        <Password
          small
          label="New password, 12 characters or more"
          autoComplete="new-password"
          value={next}
          onChange={setNext}
        />
        <button className="key">Change it</button>
      </form>
    </>
  );
}

/** A browser's own long word for itself, made short. */
export function device(agent: string): string {
  const where = /iPhone|iPad|Android|Windows|Mac OS|Linux/.exec(agent)?.[0] ?? "";
  const browser = /Firefox|Edg|Chrome|Safari/.exec(agent)?.[0].replace("Edg", "Edge") ?? "a browser";
  return where ? `${browser} on ${where}` : browser;
}
