/** Calendars: the hands-on moments as a feed or a file; busy times taken in from a file, so that nothing is
 *  planned into them. */
import { readFeedAddress, renewFeedAddress, takeInBusy } from "../../api/operations.generated";
import { useChangeWorkshop } from "../../api/changes";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useEverythingAnew } from "../../api/queries";
import { moment } from "../../domain/format";
import { useShop, useUnits } from "../../ui/session";

export function Calendars() {
  const { workshop } = useShop();
  const { zone } = useUnits();
  const anew = useEverythingAnew();
  const client = useQueryClient();
  const [says, setSays] = useState("");
  const feed = useQuery({
    queryKey: ["feed"],
    queryFn: () => readFeedAddress(),
    staleTime: Infinity,
  });
  const address = feed.data ? `${window.location.origin}${feed.data.path}` : "";
  const busy = workshop.busy ?? [];

  const change = useChangeWorkshop(workshop);
  const [asked, setAsked] = useState<{ file: File; names: string[] } | null>(null);
  const [said, setSaid] = useState(zone);
  const takeIn = async (file: File, named?: string) => {
    try {
      const found = await takeInBusy(await file.arrayBuffer(), named ? { zone: named } : {});
      setAsked(found.asks?.length ? { file, names: found.asks } : null);
      if (found.asks?.length) return setSays("");
      setSays(
        `${found.taken} busy times are taken in.${found.left_out.length ? ` Left out: ${found.left_out.slice(0, 4).join("; ")}.` : ""}`,
      );
      await anew();
    } catch (error) {
      setSays((error as Error).message);
    }
  };
  const clear = async () => {
    await change({ busy: [] });
    setSays("No busy times are held any more.");
  };
  return (
    <aside
      aria-label="Calendars"
      className="border-l border-line pl-5 max-lg:border-l-0 max-lg:pl-0 max-lg:mt-6"
    >
      <h2>Into your calendar</h2>
      <p className="mt-1 text-[13.5px]">
        Every moment that wants hands, with its own alarm. Subscribe to this address; it moves as the plans
        and pours move. Whoever knows it can read it.
      </p>
      <input
        readOnly
        aria-label="Feed address"
        className="box mt-2 text-[12px]!"
        value={address}
        onFocus={(event) => event.target.select()}
      />
      <p className="flex flex-wrap gap-4 mt-1">
        <a className="quiet" href="/api/v1/calendar.ics" download>
          As a file
        </a>
        <button
          className="quiet"
          onClick={() => void renewFeedAddress().then(() => client.invalidateQueries({ queryKey: ["feed"] }))}
        >
          New address
        </button>
      </p>
      <h2 className="mt-6">Busy times</h2>
      <p className="mt-1 text-[13.5px]">
        A calendar file (.ics) of your other dates: no work is planned at those times.
      </p>
      <label className="quiet inline-block mt-2 cursor-pointer">
        Choose a file
        <input
          type="file"
          accept=".ics,text/calendar"
          className="sr-only"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) void takeIn(file);
            event.target.value = "";
          }}
        />
      </label>
      {asked ? (
        <form
          className="mt-2 text-[13px]"
          onSubmit={(event) => {
            event.preventDefault();
            void takeIn(asked.file, said);
          }}
        >
          <label>
            This file has times in {asked.names.map((name) => `“${name}”`).join(", ")}, a time zone nobody
            knows here. Which is it?
            <input
              className="box mt-1"
              list="zones"
              value={said}
              onChange={(event) => setSaid(event.target.value)}
            />
          </label>
          <datalist id="zones">
            {Intl.supportedValuesOf("timeZone").map((name) => (
              <option key={name} value={name}>
                {name}
              </option>
            ))}
          </datalist>
          <span className="flex gap-4 mt-1.5">
            <button className="key">Take them in</button>
            <button type="button" className="quiet" onClick={() => setAsked(null)}>
              Never mind
            </button>
          </span>
        </form>
      ) : null}
      {says ? (
        <p role="status" className="text-[13px] mt-1">
          {says}
        </p>
      ) : null}
      {busy.length ? (
        <>
          <ul className="rule mt-2">
            {busy.slice(0, 8).map((one, index) => (
              <li key={index} className="py-1 text-[13px]">
                <b className="font-semibold">{moment(one.from_at, zone)}</b> to {moment(one.to_at, zone)}{" "}
                {one.what}
              </li>
            ))}
          </ul>
          {busy.length > 8 ? <p className="text-[13px] text-slate">and {busy.length - 8} more</p> : null}
          <button className="quiet mt-1" onClick={() => void clear()}>
            Forget them
          </button>
        </>
      ) : (
        <p className="text-[13px] text-slate mt-1">None are held.</p>
      )}
    </aside>
  );
}
