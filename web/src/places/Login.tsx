/** Coming in on the network: log in, take an invitation, or pair a device. */
import {
  askPasskeyLogin,
  logIn,
  logInByPasskey,
  readDoor,
  readInvitation,
  takeInvitation,
} from "../api/operations.generated";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState, type FormEvent, type ReactNode } from "react";
import { setToken, type Schemas } from "../api/client";
import { askToSign } from "../domain/passkeys";
import { Password } from "../ui/Password";
import { Pair } from "./Pair";

type State = Schemas["DoorState"];

async function openDoor(): Promise<State> {
  const state = await readDoor();
  setToken(state.csrf_token);
  return state;
}

export function Login() {
  const [pairing, setPairing] = useState(window.location.pathname === "/pair");
  const [secret] = useState(() =>
    window.location.pathname === "/join" ? window.location.hash.slice(1) : "",
  );
  if (pairing) return <Pair />;
  if (window.location.pathname === "/join") return <Join secret={secret} />;
  return <LogIn onPair={() => setPairing(true)} />;
}

function Leaf({ title, children }: { title: string; children: ReactNode }) {
  useEffect(() => {
    document.title = `${title} · Cavatum`;
  }, [title]);
  return (
    <main className="max-w-[460px] mx-auto px-6 py-12 max-sm:py-7">
      <p className="font-serif text-[21px] font-medium">Cavatum</p>
      <h1 className="text-[34px] leading-tight mt-1">{title}</h1>
      {children}
    </main>
  );
}

function useTry(what: () => Promise<void>): {
  busy: boolean;
  problem: string;
  go: (event?: FormEvent) => void;
} {
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState("");
  const go = (event?: FormEvent) => {
    event?.preventDefault();
    setBusy(true);
    setProblem("");
    what().catch((error: Error) => {
      setProblem(error.message);
      setBusy(false);
    });
  };
  return { busy, problem, go };
}

function LogIn({ onPair }: { onPair: () => void }) {
  const [email, setEmail] = useState("");
  const [password, setPassword] = useState("");
  const door = useQuery({ queryKey: ["door"], queryFn: openDoor, staleTime: Infinity });
  const typed = useTry(async () => {
    await openDoor();
    await logIn({ email, password });
    window.location.reload(); // to where one wanted to go
  });
  const keyed = useTry(async () => {
    await openDoor();
    const { options } = await askPasskeyLogin();
    await logInByPasskey({ credential: await askToSign(options) });
    window.location.reload();
  });
  return (
    <Leaf title="Log in">
      <form className="mt-4 grid gap-4" onSubmit={typed.go}>
        <EmailField value={email} onChange={setEmail} />
        <Password label="Password" autoComplete="current-password" value={password} onChange={setPassword} />
        {typed.problem || keyed.problem ? (
          <p role="alert" className="text-rust">
            {typed.problem || keyed.problem}
          </p>
        ) : null}
        <div className="flex flex-wrap gap-4 items-center">
          <button className="key min-h-11 px-6" disabled={typed.busy}>
            Log in
          </button>
          {door.data?.passkeys && "PublicKeyCredential" in window ? (
            <button type="button" className="quiet min-h-11" disabled={keyed.busy} onClick={() => keyed.go()}>
              Log in with a passkey
            </button>
          ) : null}
        </div>
      </form>
      <h2 className="mt-9">A tablet or phone at the bench?</h2>
      <p className="mt-1 text-[15px]">
        It needs no account: the owner lets it in with a code for as long as they say.{" "}
        <button className="quiet" onClick={onPair}>
          Enter a code
        </button>
      </p>
      <p className="mt-4 text-[13px] text-slate">
        Without an account, or the password forgotten: ask the owner of the workshop for a link. They make one
        under People, at the shop's own screen or in their own browser.
      </p>
    </Leaf>
  );
}

const MAY: Record<string, string> = {
  owner: "you do all of it, and say who else may come in",
  maker: "you plan, pour, and keep shelf and record",
  viewer: "you look, try plans out and print, and change nothing",
};

function Join({ secret }: { secret: string }) {
  const found = useQuery({
    queryKey: ["invitation"],
    retry: false,
    staleTime: Infinity,
    queryFn: async () => {
      window.history.replaceState(null, "", "/join"); // the secret does not stay in the browser's history
      await openDoor();
      return readInvitation({ secret });
    },
  });
  const [name, setName] = useState<string | null>(null);
  const [email, setEmail] = useState("");
  const [password, setPassword] = useState("");
  const asked = found.data;
  const join = useTry(async () => {
    await takeInvitation({ secret, name: name ?? asked?.name ?? "", email, password });
    window.location.replace("/");
  });
  if (!asked)
    return (
      <Leaf title={found.error ? "This link does not hold" : "A moment"}>
        {found.error ? <p className="mt-3 text-[15px]">{found.error.message}</p> : null}
      </Leaf>
    );
  return (
    <Leaf title={asked.again ? `A new password, ${asked.name}` : `Come into ${asked.workshop}`}>
      <p className="mt-2 text-[15px]">
        {asked.again
          ? `For the account ${asked.email} in ${asked.workshop}. Every browser that is logged in with it is logged out.`
          : `You come in as ${asked.role}: ${MAY[asked.role]}.`}
      </p>
      <form className="mt-4 grid gap-4" onSubmit={join.go}>
        {asked.again ? (
          <input type="hidden" autoComplete="username" value={asked.email} readOnly />
        ) : (
          <>
            <label className="grid gap-1 text-[15px]">
              Your name
              <input
                className="box min-h-11"
                autoComplete="name"
                required
                maxLength={60}
                value={name ?? asked.name}
                onChange={(event) => setName(event.target.value)}
              />
            </label>
            <EmailField value={email} onChange={setEmail} />
          </>
        )}
        <div className="grid gap-1">
          <Password
            label="Password"
            autoComplete="new-password"
            value={password}
            onChange={setPassword}
            help="password-help"
          />
          <span id="password-help" className="text-[13px] text-slate">
            At least 12 characters; three or four words that do not belong together are easy to keep in mind.{" "}
            {asked.again ? "" : "If this address has an account here already, its password."}
          </span>
        </div>
        {join.problem ? (
          <p role="alert" className="text-rust">
            {join.problem}
          </p>
        ) : null}
        <div>
          <button className="key min-h-11 px-6" disabled={join.busy}>
            {asked.again ? "Set it and come in" : "Come in"}
          </button>
        </div>
      </form>
    </Leaf>
  );
}

function EmailField({ value, onChange }: { value: string; onChange: (email: string) => void }) {
  return (
    <label className="grid gap-1 text-[15px]">
      E-mail address
      <input
        className="box min-h-11"
        type="email"
        autoComplete="username"
        required
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
}
