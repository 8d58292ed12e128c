/** Phones and the wall: let a device in for a bounded time, see who is in, and what the certificate is
 *  about, in plain words. */
import {
  decideHandedIn,
  endPhone,
  listHandedIn,
  listPhones,
  offerPairing,
} from "../api/operations.generated";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { moment } from "../domain/format";
import { useShop, useUnits } from "../ui/session";
import { Waiting } from "../ui/states";
import { MadeBy } from "../ui/made-by";

const TIMES: [number, string][] = [
  [12, "today"],
  [24 * 7, "a week"],
  [24 * 90, "three months"],
];

export function Phones() {
  const client = useQueryClient();
  const { zone } = useUnits();
  const { command } = useShop();
  const found = useQuery({
    queryKey: ["phones"],
    queryFn: () => listPhones(),
    refetchInterval: 5000,
  });
  const [offered, setOffered] = useState<Schemas["Offered"] | null>(null);
  const [name, setName] = useState("");
  const [hours, setHours] = useState(12);
  const [problem, setProblem] = useState("");
  if (found.isPending || !found.data) return <Waiting error={found.error} what="the phones" />;
  const { address, fingerprint, phones } = found.data;
  const offer = async () => {
    setProblem("");
    try {
      setOffered(await offerPairing({ name, hours }));
      await client.invalidateQueries({ queryKey: ["phones"] });
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <div className="px-7 py-5 max-sm:px-3 grid grid-cols-[minmax(0,1fr)_360px] gap-10 max-lg:block">
      <div>
        <h1 className="text-[34px] leading-tight">Phones and the wall</h1>
        {address ? (
          <>
            <p className="mt-1 max-w-[640px] text-[15px]">
              Devices on the workshop's network reach Cavatum at <b className="font-semibold">{address}</b>.
              Only those you let in here are answered, and only for as long as you say.
            </p>
            <div className="mt-4 flex flex-wrap gap-4 items-end">
              <label className="grid text-[13px] text-slate">
                whose or which device
                <input
                  className="box"
                  maxLength={60}
                  value={name}
                  onChange={(event) => setName(event.target.value)}
                  placeholder="Wren's phone"
                />
              </label>
              <label className="grid text-[13px] text-slate">
                for
                <select
                  className="box"
                  value={hours}
                  onChange={(event) => setHours(Number(event.target.value))}
                >
                  {TIMES.map(([value, words]) => (
                    <option key={value} value={value}>
                      {words}
                    </option>
                  ))}
                </select>
              </label>
              <button className="key" onClick={() => void offer()}>
                Let a device in
              </button>
            </div>
            {problem ? (
              <p role="alert" className="text-rust mt-2">
                {problem}
              </p>
            ) : null}
            {offered ? (
              <section aria-label="Pairing code" className="mt-5 flex flex-wrap gap-8 items-center">
                <svg
                  viewBox={`-2 -2 ${offered.qr_size + 4} ${offered.qr_size + 4}`}
                  width="240"
                  height="240"
                  role="img"
                  aria-label="QR code of the pairing address"
                  shapeRendering="crispEdges"
                >
                  <rect
                    x="-2"
                    y="-2"
                    width={offered.qr_size + 4}
                    height={offered.qr_size + 4}
                    fill="#ffffff"
                  />
                  <path d={offered.qr_path} fill="#000000" />
                </svg>
                <div>
                  <p className="text-[15px]">
                    Point the phone's camera at it, or open <b className="font-semibold">{address}</b> there
                    and enter
                  </p>
                  <p className="text-[40px] font-semibold tracking-[0.1em] tabular-nums" data-figure="code">
                    {offered.code}
                  </p>
                  <p className="text-slate">
                    Holds until {moment(offered.expires_at, zone)}, for one device; that is then in until{" "}
                    {moment(offered.until_at, zone)}.
                  </p>
                </div>
              </section>
            ) : null}
            <h2 className="mt-6">Let in</h2>
            {phones.length ? (
              <ul className="rule">
                {phones.map((one) => (
                  <li key={one.id} className="py-2 grid grid-cols-[1fr_auto_auto] gap-5 items-center">
                    <span>
                      <b className="font-semibold">{one.name || "a device"}</b>{" "}
                      {one.is_used ? (
                        <span className="text-slate">
                          {one.seen_at ? `seen ${moment(one.seen_at, zone)}` : "paired"}
                        </span>
                      ) : (
                        <span className="text-slate">not connected yet</span>
                      )}
                      <MadeBy {...one} />
                      {one.taken_by ? (
                        <span className="text-slate">, in {one.taken_by}'s browser</span>
                      ) : null}
                    </span>
                    <span>until {moment(one.is_used ? one.until_at : one.expires_at, zone)}</span>
                    <button
                      className="quiet"
                      onClick={() =>
                        void endPhone(one.id).then(() => client.invalidateQueries({ queryKey: ["phones"] }))
                      }
                    >
                      Take access away
                    </button>
                  </li>
                ))}
              </ul>
            ) : (
              <p className="text-slate">Nobody yet.</p>
            )}
          </>
        ) : (
          <p className="mt-2 max-w-[640px] text-[15px]">
            Cavatum was started for this computer alone, so no phone reaches it. To let phones in, stop it and
            start it with <b className="font-semibold">{command} start --network</b>. Nothing else has to be
            set up, and nobody gets in without a code from this page.
          </p>
        )}
        <HandedIn zone={zone} />
        <p className="mt-5">
          <Link className="quiet" to="/wall">
            The wall page, on this screen
          </Link>{" "}
          <Link className="quiet ml-5" to="/told">
            Who is told of a moment
          </Link>
        </p>
      </div>
      <aside className="border-l border-line pl-6 max-lg:border-l-0 max-lg:pl-0 max-lg:mt-8">
        <h2>Why the phone warns at first</h2>
        <p className="mt-1 text-[13.5px]">
          Phones give a page their tilt sensor, wake lock, alarms and offline use only over a protected line
          (HTTPS). A workshop has no public name that a public office could vouch for, so Cavatum vouches for
          itself, with an authority of its own that only this workshop has. It can vouch for this computer and
          private networks, for nothing else on the internet.
        </p>
        <ol className="mt-2 text-[13.5px] list-decimal pl-5 grid gap-1">
          <li>
            Put the{" "}
            <a className="quiet" href="/api/v1/authority.crt">
              authority's certificate
            </a>{" "}
            on the phone, by cable or mail to yourself, or open {address || "the address"}
            /api/v1/authority.crt there.
          </li>
          <li>
            Install it in the phone's settings as a certificate authority (Android: Security, Encryption;
            iPhone: Profile downloaded, then General, About, Certificate trust).
          </li>
          <li>Compare the fingerprint before you trust it.</li>
        </ol>
        {fingerprint ? <p className="mt-2 text-[12px] break-all font-mono">{fingerprint}</p> : null}
        <p className="mt-2 text-[13.5px]">
          Without it the phone still works after one warning, by hand: type the level, leave the page open.
          Add the page to the home screen and it opens like any other app.
        </p>
      </aside>
    </div>
  );
}

const KINDS: Record<string, string> = {
  done: "done",
  begin: "begun",
  skip: "left out",
  note: "note",
  undo: "taken back",
  end: "ended",
  taken: "weight taken",
  weighed: "weighed",
  test: "tested",
  later: "put off",
  heard: "alarm heard",
  reading: "reading",
  photo: "photo",
  saw: "seen by a camera",
  mishap: "mishap",
  "mishap-over": "mishap over",
  pace: "pace",
  attach: "readings taken in",
  amount: "amount",
  gate: "gate",
  rating: "rating",
  trouble: "trouble",
  zero: "scale set to zero",
  bottle: "bottle",
  cup: "larger cup",
  accept: "taken as it is",
};

/** What devices still held when they were put out: nothing of it counts before the owner accepts it. */
function HandedIn({ zone }: { zone: string }) {
  const client = useQueryClient();
  const found = useQuery({ queryKey: ["handed-in"], queryFn: () => listHandedIn(), refetchInterval: 15_000 });
  const [said, setSaid] = useState<string[]>([]);
  const waiting = found.data?.waiting ?? [];
  if (!waiting.length && !said.length) return null;
  const decide = async (ids: number[], accept: boolean) => {
    try {
      const { accepted, refused } = await decideHandedIn({ ids, accept });
      setSaid(accept ? [`${accepted} accepted.`, ...refused.map((one) => `Not kept: ${one}`)] : ["Refused."]);
    } catch (error) {
      setSaid([(error as Error).message]);
    }
    await client.invalidateQueries();
  };
  const devices = [...new Set(waiting.map((one) => one.device))];
  return (
    <section aria-label="Handed in" className="mt-6 max-w-[720px]">
      <h2>Handed in by devices that were put out</h2>
      <p className="text-[13.5px]">
        They were tapped before the device was put out and had not been sent. None of it counts until you
        accept it.
      </p>
      {said.length ? (
        <div role="status" className="mt-1 text-[14px]">
          {said.map((words) => (
            <p key={words}>{words}</p>
          ))}
        </div>
      ) : null}
      {devices.map((device) => {
        const its = waiting.filter((one) => one.device === device);
        const ids = its.map((one) => one.id);
        return (
          <div key={device} className="mt-3">
            <h3 className="font-semibold">{device || "a device"}</h3>
            <ul className="rule">
              {its.map((one) => (
                <li
                  key={one.id}
                  className="py-1.5 grid grid-cols-[150px_1fr_auto_auto] gap-4 items-center max-sm:grid-cols-2"
                >
                  <span className="text-slate tabular-nums">{moment(one.at ?? one.received_at, zone)}</span>
                  <span className="min-w-0 break-words">
                    {one.piece}: {KINDS[one.kind] ?? one.kind}
                    {one.about ? `, ${one.about}` : ""}
                  </span>
                  <button className="quiet" onClick={() => void decide([one.id], true)}>
                    Accept
                  </button>
                  <button className="quiet" onClick={() => void decide([one.id], false)}>
                    Refuse
                  </button>
                </li>
              ))}
            </ul>
            <p className="mt-1.5 flex gap-5">
              <button className="key" onClick={() => void decide(ids, true)}>
                Accept all {ids.length}
              </button>
              <button className="quiet" onClick={() => void decide(ids, false)}>
                Refuse all
              </button>
            </p>
          </div>
        );
      })}
    </section>
  );
}
