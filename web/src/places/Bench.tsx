/** Bench: now and next for all pieces on one clock. */
import { Link } from "react-router";
import { useBench } from "../api/queries";
import type { Schemas } from "../api/client";
import { moment, text } from "../domain/format";
import { mergedAway, onOneLine } from "../domain/bench";
import { countdown } from "../domain/time";
import { ClockLegend, ClockRibbon, ClockTable } from "../drawing/ClockRibbon";
import { LittleHollow } from "../drawing/LittleHollow";
import { useUnits } from "../ui/session";
import { useServerNow } from "../ui/useNow";
import { Empty, Waiting } from "../ui/states";
import { useSample } from "./first/useSample";
import { Unanswered } from "./told/Unanswered";

const HOUR = 3_600_000;
type BenchPiece = Schemas["BenchPiece"];

export function Bench() {
  const bench = useBench();
  const sample = useSample();
  const { zone, units } = useUnits();
  const now = new Date(useServerNow(bench.data?.now, bench.dataUpdatedAt, 20_000));
  if (bench.isPending || !bench.data) return <Waiting error={bench.error} what="the bench" />;
  const { pieces, more, runs, low, room } = bench.data;
  const moments = pieces
    .flatMap((piece) => piece.moments.map((one) => ({ piece, one })))
    .sort((a, b) => a.one.at.localeCompare(b.one.at));
  const [next, ...then] = moments;
  return (
    <>
      <Unanswered />
      <div className="grid grid-cols-[1fr_330px] border-b border-line max-lg:block">
        <section className="px-7 py-5 max-sm:px-3" aria-label="Next to do">
          {next ? (
            <Next piece={next.piece} one={next.one} now={now} zone={zone} />
          ) : (
            <Empty title={pieces.length ? "Nothing waits for your hands" : "The bench is empty"}>
              {pieces.length ? (
                "Set a start on a piece's Clock, and its next steps appear here."
              ) : (
                <>
                  <p>Say what lies on the bench and how big it is, and read what to weigh.</p>
                  <p className="mt-4 flex gap-4 items-center">
                    <Link className="key" to="/new">
                      New piece
                    </Link>
                    <button className="quiet" onClick={() => void sample()}>
                      Look at a sample piece
                    </button>
                  </p>
                </>
              )}
            </Empty>
          )}
        </section>
        <section
          className="border-l border-line px-5 py-4 max-lg:border-l-0 max-lg:border-t max-sm:px-3"
          aria-label="Then"
        >
          <h2>Then</h2>
          <ul className="rule">
            {then.slice(0, 5).map(({ piece, one }, index) => (
              <li key={index} className="grid grid-cols-[104px_1fr] py-1.5 text-[13.5px]">
                <b className="font-semibold">{moment(one.at, zone)}</b>
                <Link to={`/pieces/${piece.id}/clock`}>
                  {one.label}, {piece.name}
                </Link>
              </li>
            ))}
            {then.length === 0 ? <li className="py-1.5 text-slate">nothing else is set</li> : null}
            {low.map((one) => (
              <li key={one.system_id + one.part} className="grid grid-cols-[104px_1fr] py-1.5 text-[13.5px]">
                <b className="font-semibold text-rust">low</b>
                <Link to="/shelf/stock">
                  {one.name}, part {one.part}: {text(one.left_kg, "mass", units)} left, plans need{" "}
                  {text(one.needed_kg, "mass", units)}
                </Link>
              </li>
            ))}
          </ul>
          <p className="flex flex-wrap gap-x-5 mt-1">
            <Link className="quiet" to="/workshop">
              Plan all together
            </Link>
            <Link className="quiet" to="/wall">
              Open as the wall page
            </Link>
            <Link className="quiet" to="/told">
              Who is told
            </Link>
            <Link className="quiet" to="/instruments">
              Instruments
            </Link>
          </p>
          {room.map((one) => (
            <p key={one.device} className="text-[13px] text-slate">
              {one.problem ||
                `${one.device}: ${text(one.value ?? 0, "temperature", units)}${typeof one.humidity === "number" ? `, air ${text(one.humidity, "fraction", units)}` : ""}`}
            </p>
          ))}
        </section>
      </div>
      {runs.length ? <Running runs={runs} now={now} zone={zone} /> : null}
      {pieces.length ? <AllPieces pieces={pieces} now={now} zone={zone} more={more} /> : null}
    </>
  );
}

function Next({
  piece,
  one,
  now,
  zone,
}: {
  piece: BenchPiece;
  one: Schemas["Moment"];
  now: Date;
  zone: string;
}) {
  const wait = +new Date(one.at) - +now;
  return (
    <>
      <p className="text-[15px] text-slate">
        Next to do,{" "}
        <b className="font-semibold text-rust">{wait > 0 ? `in ${countdown(wait)}` : "open now"}</b>
        {one.until ? `, until ${moment(one.until, zone)}` : wait > 0 ? `, ${moment(one.at, zone)}` : ""}
      </p>
      <h1 className="mt-1 text-[40px] leading-[1.08] max-sm:text-[30px]">
        {title(one.label)}, {piece.name}
      </h1>
      <p className="mt-2 text-[15px] max-w-[660px]">
        {piece.standing.status[0]!.toUpperCase() + piece.standing.status.slice(1)}. {one.detail}
      </p>
      <p className="mt-4 flex gap-4 items-center">
        <Link className="key" to={`/pieces/${piece.id}/${one.label.startsWith("mix") ? "mix" : "clock"}`}>
          {one.label.startsWith("mix") ? "What to weigh" : "Look at its clock"}
        </Link>
        <Link className="quiet" to={`/pieces/${piece.id}/clock`}>
          Move to another day
        </Link>
      </p>
    </>
  );
}

/** What is being poured: each run with what is next of it; hot and waiting ones say so in a word. */
export function Running({ runs, now, zone }: { runs: Schemas["RunRow"][]; now: Date; zone: string }) {
  const { units } = useUnits();
  return (
    <section aria-label="On the bench" className="px-7 py-3 border-b border-line max-sm:px-3">
      <h2>On the bench</h2>
      <ul className="grid grid-cols-3 gap-x-8 max-lg:grid-cols-2 max-sm:grid-cols-1">
        {runs.map((one) => {
          const opens = one.opens_at ? +new Date(one.opens_at) - +now : 0;
          return (
            <li key={one.id} className="flex gap-3 py-2 items-start">
              <LittleHollow filled={one.poured} tint={one.tint} />
              <Link to={`/runs/${one.id}`} className="min-w-0">
                <b className="font-semibold text-[15px] block">{one.piece}</b>
                <span className="block text-[13.5px]">
                  {one.step || "nothing is left to do"}
                  {one.opens_at ? (opens > 0 ? `, in ${countdown(opens)}` : ", now") : ""}
                  {one.closes_at ? `, until ${moment(one.closes_at, zone)}` : ""}
                </span>
                <span className="block text-[12.5px]">
                  {one.open_mishaps ? <b className="text-rust font-semibold">something is wrong </b> : null}
                  {one.is_hot ? <b className="text-rust font-semibold">hot: </b> : null}
                  {typeof one.now_c === "number"
                    ? `about ${text(one.now_c, "temperature", units)} by the plan`
                    : ""}
                  {one.kind === "test" && opens <= 0 ? (
                    <b className="font-semibold"> waiting to be tested</b>
                  ) : null}
                </span>
              </Link>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

export function title(label: string): string {
  const words = label.replace(/^mix, p/, "p");
  return words[0]!.toUpperCase() + words.slice(1);
}

function AllPieces({
  pieces,
  now,
  zone,
  more,
}: {
  pieces: BenchPiece[];
  now: Date;
  zone: string;
  more: number;
}) {
  const from = new Date(+now - 14 * HOUR);
  const to = new Date(+now + 106 * HOUR);
  const away = mergedAway(pieces, from, to);
  const rows = pieces.map((piece) => ({
    label: piece.name,
    segments: onOneLine(piece),
    pins: piece.clock?.pins ?? [],
    faint: piece.standing.phase === "in planning",
  }));
  return (
    <section className="px-7 py-3 max-sm:px-3" aria-label="All pieces on one clock">
      <div className="grid grid-cols-[220px_minmax(0,1fr)] max-sm:block">
        <ul className="pt-[46px] max-sm:pt-0">
          {pieces.map((piece) => (
            <li key={piece.id} className="h-[58px] flex items-center border-b border-line">
              <Link to={`/pieces/${piece.id}/layers`} className="flex gap-3 items-center min-w-0">
                <LittleHollow filled={piece.standing.filled} tint={piece.tint} />
                <span className="min-w-0">
                  <b className="font-semibold text-[15px] block truncate">{piece.name}</b>
                  <span className="text-[12.5px] text-slate block truncate" title={piece.standing.status}>
                    {piece.standing.status}
                  </span>
                </span>
              </Link>
            </li>
          ))}
        </ul>
        <ClockRibbon
          from={from}
          to={to}
          zone={zone}
          away={away}
          rows={rows}
          cursor={now}
          cursorWord="now"
          rowHeight={58}
          hideLabels
        />
      </div>
      <div className="mt-2">
        <ClockLegend />
        <ClockTable rows={rows} zone={zone} />
      </div>
      {more ? (
        <p className="mt-2 text-slate">
          {more} more in{" "}
          <Link className="quiet" to="/pieces">
            Pieces
          </Link>
        </p>
      ) : null}
    </section>
  );
}
