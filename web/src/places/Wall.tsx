/** The page left open on the shop's wall: what is next, counted down, large; what is curing, hot or
 *  waiting; alarms of every pour. */
import { sendRunEvents } from "../api/operations.generated";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link } from "react-router";
import { keys, useBench } from "../api/queries";
import { moment, text } from "../domain/format";
import { uuid } from "../domain/uuid";
import { title } from "./Bench";
import { LittleHollow } from "../drawing/LittleHollow";
import { large } from "../stages/pour/timer";
import { AlarmOverlay, beep, useAwake, useSound, wakeSound, type Ringing } from "../ui/alarms";
import { useShop, useUnits } from "../ui/session";
import { useServerNow } from "../ui/useNow";
import { Waiting } from "../ui/states";

export function Wall() {
  const bench = useBench(10_000);
  const client = useQueryClient();
  const { zone, units } = useUnits();
  const { workshop } = useShop();
  const sounds = useSound();
  const awake = useAwake();
  const now = useServerNow(bench.data?.now, bench.dataUpdatedAt, 500);
  useEffect(() => {
    document.title = "Wall · Cavatum";
    return () => {
      document.title = "Cavatum";
    };
  }, []);
  if (bench.isPending || !bench.data) return <Waiting error={bench.error} what="the wall page" />;
  const { runs, pieces, low, room } = bench.data;
  const next = nextOf(bench.data);
  const ringing: Ringing[] = runs.flatMap((run) =>
    run.alarms
      .filter((one) => +new Date(one.at) <= now)
      .map((one) => ({
        id: `${run.id}|${one.id}`,
        words: one.words,
        where: run.piece,
        late: now - +new Date(one.at),
      })),
  );
  const heard = async (all: Ringing[]) => {
    for (const one of all) {
      const [run, alarm] = [one.id.slice(0, one.id.indexOf("|")), one.id.slice(one.id.indexOf("|") + 1)];
      const at = new Date(now).toISOString();
      await sendRunEvents(Number(run), {
        since: 1e9,
        events: [
          {
            event_id: uuid(),
            device: uuid(),
            seq: 1,
            at,
            device_at: new Date().toISOString(),
            who: "wall",
            event: { kind: "heard", alarm },
          },
        ],
      }).catch(() => undefined);
    }
    await client.invalidateQueries({ queryKey: keys.bench });
  };
  const alarms = runs
    .flatMap((run) => run.alarms.map((one) => ({ ...one, piece: run.piece })))
    .filter((one) => +new Date(one.at) > now)
    .sort((a, b) => a.at.localeCompare(b.at));
  return (
    <main className="bench-mode min-h-dvh px-10 py-6 max-sm:px-4 flex flex-col text-[22px]">
      <header className="flex flex-wrap justify-between gap-x-8 text-[24px]">
        <Link to="/" className="font-serif text-[30px] min-h-[64px] grid content-center">
          ‹ {workshop.name}
        </Link>
        <span className="tabular-nums grid content-center">
          {new Intl.DateTimeFormat("en-GB", {
            timeZone: zone,
            weekday: "long",
            hour: "2-digit",
            minute: "2-digit",
            hourCycle: "h23",
          }).format(new Date(now))}
          {room.map((one) =>
            one.problem
              ? `, ${one.problem}`
              : `, room ${text(one.value ?? 0, "temperature", units)}${typeof one.humidity === "number" ? `, air ${text(one.humidity, "fraction", units)}` : ""}`,
          )}
          {bench.isError ? <b className="text-rust font-semibold"> no connection</b> : null}
        </span>
      </header>
      {next ? (
        <section aria-label="Next to do" className="mt-2">
          <p className="text-slate">
            {next.at <= now ? "Now" : "Next"}, {next.where}
          </p>
          <h1 className="text-[72px] leading-[1.05] max-lg:text-[48px] max-sm:text-[34px]">
            {title(next.words)}
          </h1>
          <p className="mt-2 flex flex-wrap items-baseline gap-x-6">
            <span
              data-figure="timer"
              role="timer"
              aria-label={next.at <= now ? "due now" : `in ${large(next.at - now)}`}
              className={`font-semibold tabular-nums leading-none text-[120px] max-sm:text-[80px] ${next.at <= now ? "text-rust" : ""}`}
            >
              {next.at <= now ? "now" : large(next.at - now)}
            </span>
            <span className="text-[28px]">
              {next.until
                ? `until ${moment(new Date(next.until).toISOString(), zone)}`
                : next.at > now
                  ? moment(new Date(next.at).toISOString(), zone)
                  : ""}
            </span>
          </p>
        </section>
      ) : (
        <h1 className="text-[56px] max-sm:text-[34px] mt-4">Nothing waits for your hands.</h1>
      )}
      <ul
        aria-label="On the bench"
        className="grid grid-cols-3 max-lg:grid-cols-2 max-sm:grid-cols-1 gap-x-10 gap-y-2 mt-6 border-t border-ink pt-3"
      >
        {runs.map((one) => (
          <li key={one.id}>
            <Link to={`/runs/${one.id}`} className="flex gap-4 min-h-[72px] items-center">
              <LittleHollow filled={one.poured} tint={one.tint} />
              <span>
                <b className="font-semibold">{one.piece}</b>
                <span className="block text-[19px]">
                  {one.step || "nothing is left to do"}
                  {one.opens_at ? `, ${moment(one.opens_at, zone)}` : ""}
                </span>
                <span className="block text-[19px]">
                  {one.open_mishaps ? <b className="text-rust font-semibold">something is wrong </b> : null}
                  {one.is_hot ? <b className="text-rust font-semibold">hot </b> : null}
                  {typeof one.now_c === "number" ? `about ${text(one.now_c, "temperature", units)}` : ""}
                  {one.kind === "test" ? ", to be tested" : ""}
                </span>
              </span>
            </Link>
          </li>
        ))}
        {pieces
          .filter((one) => one.standing.phase === "curing" && !runs.some((run) => run.piece_id === one.id))
          .map((one) => (
            <li key={one.id}>
              <Link to={`/pieces/${one.id}/clock`} className="flex gap-4 min-h-[72px] items-center">
                <LittleHollow filled={one.standing.filled} tint={one.tint} />
                <span>
                  <b className="font-semibold">{one.name}</b>
                  <span className="block text-[19px]">{one.standing.status}, by the plan</span>
                </span>
              </Link>
            </li>
          ))}
      </ul>
      {low.length ? (
        <p className="mt-4 text-rust font-semibold">
          Low: {low.map((one) => `${one.name}, part ${one.part}`).join("; ")}.
        </p>
      ) : null}
      <section aria-label="Alarms" className="mt-auto pt-4 text-[19px] flex flex-wrap items-center gap-x-8">
        <p>
          <b className="font-semibold">Alarms set here:</b>{" "}
          {alarms.length
            ? alarms
                .slice(0, 5)
                .map((one) => `${moment(one.at, zone)} ${one.words}, ${one.piece}`)
                .join("; ")
            : "none just now"}
          . They sound while this page is open.
        </p>
        {sounds ? (
          <button className="big-quiet" onClick={beep}>
            Sound is on: try it
          </button>
        ) : (
          <button
            className="big-quiet text-rust!"
            onClick={() => {
              wakeSound();
              window.setTimeout(beep, 120);
            }}
          >
            Sound is off: tap to switch it on
          </button>
        )}
        <span className="text-slate">
          {awake ? "Screen stays awake." : "The screen may fall asleep: set it to stay on."}
        </span>
      </section>
      <AlarmOverlay ringing={ringing} onHeard={(all) => void heard(all)} />
    </main>
  );
}

interface Next {
  words: string;
  where: string;
  at: number;
  until: number | null;
}

/** The soonest of what the runs and the plans want. A piece that is being poured goes by its run. */
function nextOf({ runs, pieces }: NonNullable<ReturnType<typeof useBench>["data"]>): Next | null {
  const running = new Set(runs.map((one) => one.piece_id));
  const found: Next[] = runs
    .filter((one) => one.step && one.is_hands_on)
    .map((one) => ({
      words: one.step,
      where: one.piece,
      at: one.opens_at ? +new Date(one.opens_at) : 0,
      until: one.closes_at ? +new Date(one.closes_at) : null,
    }));
  for (const piece of pieces.filter((one) => !running.has(one.id))) {
    const one = piece.moments[0];
    if (one)
      found.push({
        words: one.label,
        where: piece.name,
        at: +new Date(one.at),
        until: one.until ? +new Date(one.until) : null,
      });
  }
  return found.sort((a, b) => a.at - b.at)[0] ?? null;
}
