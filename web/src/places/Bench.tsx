/** Bench: now and next for all pieces on one clock. */
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { useBench } from "../api/queries";
import type { Schemas } from "../api/client";
import { moment } from "../domain/format";
import { mergedAway, onOneLine } from "../domain/bench";
import { countdown } from "../domain/time";
import { ClockLegend, ClockRibbon, ClockTable } from "../drawing/ClockRibbon";
import { LittleHollow } from "../drawing/LittleHollow";
import { useUnits } from "../ui/session";
import { Empty, Waiting } from "../ui/states";

const HOUR = 3_600_000;
type BenchPiece = Schemas["BenchPiece"];

export function Bench() {
  const bench = useBench();
  const { zone } = useUnits();
  const now = useNow(bench.data?.now, bench.dataUpdatedAt);
  if (bench.isPending || !bench.data) return <Waiting error={bench.error} what="the bench" />;
  const { pieces, more } = bench.data;
  const moments = pieces.flatMap((piece) => piece.moments.map((one) => ({ piece, one }))).sort((a, b) => a.one.at.localeCompare(b.one.at));
  const [next, ...then] = moments;
  return (
    <>
      <div className="grid grid-cols-[1fr_330px] border-b border-line max-lg:block">
        <section className="px-7 py-5 max-sm:px-3" aria-label="Next for your hands">
          {next ? <Next piece={next.piece} one={next.one} now={now} zone={zone} /> : (
            <Empty title={pieces.length ? "Nothing waits for your hands" : "The bench is empty"}>
              {pieces.length ? "Set a start on a piece's Clock, and its moments stand here." : <><p>Begin with a piece: measure its hollow, choose a resin, and read what to weigh.</p><Link className="key inline-block mt-4" to="/pieces?new">New piece</Link></>}
            </Empty>
          )}
        </section>
        <section className="border-l border-line px-5 py-4 max-lg:border-l-0 max-lg:border-t max-sm:px-3" aria-label="Then">
          <h2>Then</h2>
          <ul className="rule">
            {then.slice(0, 5).map(({ piece, one }, index) => (
              <li key={index} className="grid grid-cols-[104px_1fr] py-1.5 text-[13.5px]"><b className="font-semibold">{moment(one.at, zone)}</b><Link to={`/pieces/${piece.id}/clock`}>{one.label}, {piece.name}</Link></li>
            ))}
            {then.length === 0 ? <li className="py-1.5 text-slate">nothing else is set</li> : null}
          </ul>
        </section>
      </div>
      {pieces.length ? <AllPieces pieces={pieces} now={now} zone={zone} more={more} /> : null}
    </>
  );
}

function Next({ piece, one, now, zone }: { piece: BenchPiece; one: Schemas["Moment"]; now: Date; zone: string }) {
  const wait = +new Date(one.at) - +now;
  return (
    <>
      <p className="text-[15px] text-slate">
        Next for your hands, <b className="font-semibold text-rust">{wait > 0 ? `in ${countdown(wait)}` : "open now"}</b>{one.until ? `, until ${moment(one.until, zone)}` : wait > 0 ? `, ${moment(one.at, zone)}` : ""}
      </p>
      <h1 className="mt-1 text-[40px] leading-[1.08] max-sm:text-[30px]">{title(one.label)}, {piece.name}</h1>
      <p className="mt-2 text-[15px] max-w-[660px]">{piece.standing.status[0].toUpperCase() + piece.standing.status.slice(1)}. {one.detail}</p>
      <p className="mt-4 flex gap-4 items-center"><Link className="key" to={`/pieces/${piece.id}/${one.label.startsWith("mix") ? "mix" : "clock"}`}>{one.label.startsWith("mix") ? "What to weigh" : "Look at its clock"}</Link><Link className="quiet" to={`/pieces/${piece.id}/clock`}>Not today: move it</Link></p>
    </>
  );
}

function title(label: string): string {
  const words = label.replace(/^mix, p/, "p");
  return words[0].toUpperCase() + words.slice(1);
}

/** The server's clock carried on; a wall page left open stays true. */
function useNow(server: string | undefined, fetchedAt: number): Date {
  const [, tick] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => tick((count) => count + 1), 20_000);
    return () => clearInterval(timer);
  }, []);
  return server ? new Date(+new Date(server) + (Date.now() - fetchedAt)) : new Date();
}

function AllPieces({ pieces, now, zone, more }: { pieces: BenchPiece[]; now: Date; zone: string; more: number }) {
  const from = new Date(+now - 14 * HOUR);
  const to = new Date(+now + 106 * HOUR);
  const away = mergedAway(pieces, from, to);
  const rows = pieces.map((piece) => ({ label: piece.name, segments: onOneLine(piece), pins: piece.clock?.pins ?? [], faint: piece.standing.phase === "in planning" }));
  return (
    <section className="px-7 py-3 max-sm:px-3" aria-label="All pieces on one clock">
      <div className="grid grid-cols-[220px_minmax(0,1fr)] max-sm:block">
        <ul className="pt-[46px] max-sm:pt-0">
          {pieces.map((piece) => (
            <li key={piece.id} className="h-[58px] flex items-center border-b border-line">
              <Link to={`/pieces/${piece.id}/layers`} className="flex gap-3 items-center min-w-0">
                <LittleHollow filled={piece.standing.filled} tint={piece.tint} />
                <span className="min-w-0"><b className="font-semibold text-[15px] block truncate">{piece.name}</b><span className="text-[12.5px] text-slate block truncate" title={piece.standing.status}>{piece.standing.status}</span></span>
              </Link>
            </li>
          ))}
        </ul>
        <ClockRibbon from={from} to={to} zone={zone} away={away} rows={rows} cursor={now} cursorWord="now" rowHeight={58} hideLabels />
      </div>
      <div className="mt-2"><ClockLegend /><ClockTable rows={rows} zone={zone} /></div>
      {more ? <p className="mt-2 text-slate">{more} more in <Link className="quiet" to="/pieces">Pieces</Link></p> : null}
    </section>
  );
}
