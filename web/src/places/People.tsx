/** Who may come in: people and their roles, links for new ones, tokens for scripts, and what was done about
 *  it. For the owner. */
import {
  changePerson,
  endInvitation,
  endToken,
  invitePerson,
  makeToken,
  offerWayIn,
  putOutPerson,
  readPeople,
  readTrail,
} from "../api/operations.generated";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { date } from "../domain/format";
import { useShop, useUnits } from "../ui/session";
import { Waiting } from "../ui/states";
import { MadeBy } from "../ui/made-by";

type Role = "owner" | "maker" | "viewer";
const ROLES: [Role, string][] = [
  ["maker", "maker: plans, pours, keeps shelf and record"],
  ["viewer", "viewer: looks, tries out, prints"],
  ["owner", "owner: all of it, and who may come in"],
];

export function People() {
  const client = useQueryClient();
  const { zone } = useUnits();
  const { command } = useShop();
  const found = useQuery({
    queryKey: ["people"],
    queryFn: () => readPeople(),
  });
  const trail = useQuery({
    queryKey: ["trail"],
    queryFn: () => readTrail(),
  });
  const [offered, setOffered] = useState<{ who: string; answer: Schemas["InviteAnswer"] } | null>(null);
  const [token, setToken] = useState<string | null>(null);
  const [problem, setProblem] = useState("");
  const [ended, setEnded] = useState<{ name: string; answer: Schemas["EndedAnswer"] } | null>(null);
  if (!found.data) return <Waiting error={found.error} what="the people" />;
  const { address, people, invited, tokens } = found.data;
  const doing = async (what: () => Promise<unknown>) => {
    setProblem("");
    setEnded(null);
    try {
      await what();
    } catch (error) {
      setProblem((error as Error).message);
    }
    await Promise.all([
      client.invalidateQueries({ queryKey: ["people"] }),
      client.invalidateQueries({ queryKey: ["trail"] }),
    ]);
  };
  return (
    <div className="px-7 py-5 max-sm:px-3 grid grid-cols-[minmax(0,1fr)_380px] gap-10 max-lg:block">
      <div>
        <h1 className="text-[34px] leading-tight">People</h1>
        {address ? (
          <p className="mt-1 max-w-[640px] text-[15px]">
            They reach this workshop at <b className="font-semibold">{address}</b> and log in there. A tablet
            at the bench needs no account:{" "}
            <Link className="quiet" to="/phones">
              let a device in
            </Link>
            .
          </p>
        ) : (
          <p className="mt-1 max-w-[640px] text-[15px]">
            Cavatum was started for this computer alone: whoever sits at it needs no account, and nobody else
            reaches it. For others, stop it and start it with{" "}
            <b className="font-semibold">{command} start --network</b>.
          </p>
        )}
        {problem ? (
          <p role="alert" className="text-rust mt-2">
            {problem}
          </p>
        ) : null}
        {ended ? <Ended {...ended} /> : null}
        {people.length ? (
          <ul className="rule mt-3" aria-label="People">
            {people.map((one) => (
              <li
                key={one.account_id}
                className="py-2 grid grid-cols-[minmax(0,1fr)_auto_auto_auto] gap-x-5 gap-y-1 items-center max-sm:grid-cols-2"
              >
                <span className="min-w-0 max-sm:col-span-2">
                  <b className="font-semibold">{one.name}</b>
                  {one.is_you ? " (you)" : ""}{" "}
                  <span className="text-slate break-words">
                    {one.email}, {one.seen_at ? `seen ${date(one.seen_at, zone)}` : "not in yet"}
                  </span>
                </span>
                <select
                  className="box"
                  aria-label={`Role of ${one.name}`}
                  value={one.role}
                  onChange={(event) =>
                    void doing(async () =>
                      setEnded({
                        name: one.name,
                        answer: await changePerson(one.account_id, {
                          role: event.target.value as typeof one.role,
                        }),
                      }),
                    )
                  }
                >
                  {ROLES.map(([role]) => (
                    <option key={role} value={role}>
                      {role}
                    </option>
                  ))}
                </select>
                <button
                  className="quiet"
                  disabled={!address}
                  onClick={() =>
                    void doing(async () =>
                      setOffered({
                        who: `${one.name} sets a new password`,
                        answer: await offerWayIn(one.account_id),
                      }),
                    )
                  }
                >
                  New password
                </button>
                <button
                  className="quiet"
                  onClick={() =>
                    window.confirm(
                      `Put ${one.name} out? They are logged out everywhere. The links, script tokens and ` +
                        `device codes they made end too, and so does their calendar address.`,
                    ) &&
                    void doing(async () =>
                      setEnded({ name: one.name, answer: await putOutPerson(one.account_id) }),
                    )
                  }
                >
                  Take access away
                </button>
              </li>
            ))}
          </ul>
        ) : (
          <p className="mt-3 text-slate">
            Nobody has an account yet. Begin with your own: invite yourself as owner and open the link on your
            phone or tablet.
          </p>
        )}
        {address ? (
          <Invite
            onMade={(who, answer) => {
              setOffered({ who, answer });
              void doing(async () => undefined);
            }}
            onProblem={setProblem}
          />
        ) : null}
        {offered ? (
          <section aria-label="Link" className="mt-4 flex flex-wrap gap-6 items-center">
            <svg
              viewBox={`-2 -2 ${offered.answer.qr_size + 4} ${offered.answer.qr_size + 4}`}
              width="180"
              height="180"
              role="img"
              aria-label="QR code of the link"
              shapeRendering="crispEdges"
            >
              <rect
                x="-2"
                y="-2"
                width={offered.answer.qr_size + 4}
                height={offered.answer.qr_size + 4}
                fill="#ffffff"
              />
              <path d={offered.answer.qr_path} fill="#000000" />
            </svg>
            <div className="min-w-0 max-w-[420px]">
              <p className="text-[15px]">
                {offered.who}. Shown once: point a camera at it, or hand the link over.
              </p>
              <p className="mt-1 font-mono text-[12.5px] break-all select-all" data-figure="link">
                {offered.answer.link}
              </p>
              <p className="mt-1 text-slate">Holds until {date(offered.answer.expires_at, zone)}, once.</p>
            </div>
          </section>
        ) : null}
        {invited.length ? (
          <>
            <h2 className="mt-6">Invited</h2>
            <ul className="rule">
              {invited.map((one) => (
                <li key={one.id} className="py-2 flex flex-wrap gap-x-5 items-center">
                  <span className="flex-1">
                    {one.name || "somebody"}, {one.again ? "new password" : one.role}
                    <MadeBy {...one} />
                  </span>
                  <span>until {date(one.expires_at, zone)}</span>
                  <button className="quiet" onClick={() => void doing(() => endInvitation(one.id))}>
                    Take back
                  </button>
                </li>
              ))}
            </ul>
          </>
        ) : null}
        <h2 className="mt-7">Scripts</h2>
        <p className="text-[14px] max-w-[640px]">
          A token lets a script read (or keep) what a person would, with{" "}
          <span className="font-mono text-[12.5px]">Authorization: Bearer …</span>
        </p>
        <NewToken
          onMade={(made) => {
            setToken(made);
            void doing(async () => undefined);
          }}
          onProblem={setProblem}
        />
        {token ? (
          <p className="mt-2 max-w-[640px]">
            Shown once:{" "}
            <span className="font-mono text-[12.5px] break-all select-all" data-figure="token">
              {token}
            </span>
          </p>
        ) : null}
        <ul className="rule mt-2" aria-label="Tokens">
          {tokens.map((one) => (
            <li key={one.id} className="py-2 flex flex-wrap gap-x-5 items-center">
              <span className="flex-1">
                <b className="font-semibold">{one.name}</b>{" "}
                <span className="text-slate">
                  {one.role}, {one.seen_at ? `seen ${date(one.seen_at, zone)}` : "not used yet"}
                  <MadeBy {...one} />
                </span>
              </span>
              <span>until {date(one.until_at, zone)}</span>
              <button className="quiet" onClick={() => void doing(() => endToken(one.id))}>
                End
              </button>
            </li>
          ))}
        </ul>
        <h2 className="mt-7">Export all workshop data</h2>
        <p className="text-[14px] max-w-[640px]">
          All that this workshop owns as open files in one archive: pieces, sheets, runs with every event and
          reading, stock, photos.{" "}
          <a className="quiet" href="/api/v1/workshop/export.zip">
            Download the export
          </a>
          ; with years of readings it takes a minute until the download begins. It goes into an empty server
          with <span className="font-mono text-[12.5px]">{command} import FILE</span>.
        </p>
      </div>
      <aside
        aria-label="Trail"
        className="border-l border-line pl-6 max-lg:border-l-0 max-lg:pl-0 max-lg:mt-8"
      >
        <h2>What was done</h2>
        {trail.data?.trail.length ? (
          <ul className="mt-1 text-[13px]">
            {trail.data.trail.map((one) => (
              <li
                key={one.id}
                className="py-1.5 border-b border-line grid grid-cols-[136px_minmax(0,1fr)] gap-3"
              >
                <span className="text-slate tabular-nums">{date(one.at, zone)}</span>
                <span>
                  {one.who} {one.what}
                  {one.about ? `: ${one.about}` : ""}
                </span>
              </li>
            ))}
          </ul>
        ) : (
          <p className="text-slate">Nothing yet.</p>
        )}
      </aside>
    </div>
  );
}

const counted = (count: number, one: string, many: string) =>
  count ? [`${count} ${count === 1 ? one : many}`] : [];

/** What went with somebody's role or membership, and where to look for what nobody knows the maker of. */
function Ended({ name, answer }: { name: string; answer: Schemas["EndedAnswer"] }) {
  const what = [
    ...counted(answer.browsers, "browser", "browsers"),
    ...counted(answer.invitations, "invitation", "invitations"),
    ...counted(answer.tokens, "script token", "script tokens"),
    ...counted(answer.devices, "paired device", "paired devices"),
    ...counted(answer.feeds, "calendar address", "calendar addresses"),
  ];
  if (!what.length && !answer.unknown) return null;
  return (
    <div role="status" className="mt-3 max-w-[640px] text-[15px]">
      {what.length ? (
        <p>
          Ended with {name}: {what.join(", ")}.
        </p>
      ) : null}
      {answer.unknown ? (
        <p>
          {answer.unknown === 1 ? "One that goes on was" : `${answer.unknown} that go on were`} made before it
          was kept by whom: look through the links and tokens here and the devices under{" "}
          <Link className="quiet" to="/phones">
            Phones and the wall
          </Link>
          , and end what is {name}'s.
        </p>
      ) : null}
    </div>
  );
}

function Invite({
  onMade,
  onProblem,
}: {
  onMade: (who: string, answer: Schemas["InviteAnswer"]) => void;
  onProblem: (text: string) => void;
}) {
  const [name, setName] = useState("");
  const [role, setRole] = useState<Role>("maker");
  const invite = async () => {
    try {
      onMade(`${name || "Whoever opens it"} comes in as ${role}`, await invitePerson({ name, role }));
      setName("");
    } catch (error) {
      onProblem((error as Error).message);
    }
  };
  return (
    <form
      className="mt-4 flex flex-wrap gap-4 items-end"
      onSubmit={(event) => {
        event.preventDefault();
        void invite();
      }}
    >
      <label className="grid text-[13px] text-slate">
        whom
        <input
          className="box"
          maxLength={60}
          value={name}
          onChange={(event) => setName(event.target.value)}
          placeholder="Wren"
        />
      </label>
      <label className="grid text-[13px] text-slate">
        as
        <select className="box" value={role} onChange={(event) => setRole(event.target.value as Role)}>
          {ROLES.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
      </label>
      <button className="key">Make a link</button>
    </form>
  );
}

function NewToken({
  onMade,
  onProblem,
}: {
  onMade: (token: string) => void;
  onProblem: (text: string) => void;
}) {
  const [name, setName] = useState("");
  const [role, setRole] = useState<"maker" | "viewer">("viewer");
  const [days, setDays] = useState(90);
  const make = async () => {
    try {
      onMade((await makeToken({ name, role, days })).token);
      setName("");
    } catch (error) {
      onProblem((error as Error).message);
    }
  };
  return (
    <form
      className="mt-2 flex flex-wrap gap-4 items-end"
      onSubmit={(event) => {
        event.preventDefault();
        void make();
      }}
    >
      <label className="grid text-[13px] text-slate">
        which script
        <input
          className="box"
          required
          maxLength={60}
          value={name}
          onChange={(event) => setName(event.target.value)}
          placeholder="till"
        />
      </label>
      <label className="grid text-[13px] text-slate">
        it may
        <select
          className="box"
          value={role}
          onChange={(event) => setRole(event.target.value as "maker" | "viewer")}
        >
          <option value="viewer">read</option>
          <option value="maker">read and keep</option>
        </select>
      </label>
      <label className="grid text-[13px] text-slate">
        for
        <select className="box" value={days} onChange={(event) => setDays(Number(event.target.value))}>
          <option value={7}>a week</option>
          <option value={90}>three months</option>
          <option value={366}>a year</option>
        </select>
      </label>
      <button className="key">Make a token</button>
    </form>
  );
}
