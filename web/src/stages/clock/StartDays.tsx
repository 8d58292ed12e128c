/** Every start of the days to come: which leaves hands free for all of it, which misses something, which cannot
 * be. One row a day; a stretch is tapped to start at its beginning. */
import type { Schemas } from "../../api/client";
import { dayAndTime, moment } from "../../domain/format";
import { midnights } from "../../domain/time";

type Band = Schemas["StartBand"];
const WORDS = {
  good: "everything meets somebody",
  misses: "something meets nobody",
  impossible: "cannot be",
} as const;
const LOOK = {
  good: "bg-spruce-soft border-spruce",
  misses: "bg-raised border-amber border-dashed",
  impossible: "",
} as const;

export function StartDays({
  bands,
  start,
  zone,
  onSet,
}: {
  bands: Band[];
  start: string | null;
  zone: string;
  onSet: (at: string) => void;
}) {
  const open = bands.filter((one) => one.judged !== "impossible");
  const first = bands[0];
  const last = bands.at(-1);
  if (!first || !last || !open.length) {
    return <p className="text-[13px] text-slate">Nobody is there long enough in the next days.</p>;
  }
  const days = midnights(new Date(first.from_at), new Date(last.to_at), zone).map((day) => day.at.getTime());
  const edges = [new Date(first.from_at).getTime(), ...days, new Date(last.to_at).getTime()];
  const rows = edges
    .slice(0, -1)
    .map((from, place) => ({ from, to: edges[place + 1]! }))
    .map((row) => ({ ...row, bands: open.flatMap((one) => cut(one, row.from, row.to)) }))
    .filter((row) => row.bands.length);
  return (
    <div className="mt-1.5">
      <ul className="grid gap-1">
        {rows.map((row) => (
          <li key={row.from} className="grid grid-cols-[84px_1fr] items-center gap-2 text-[13px]">
            <span className="font-semibold">{dayAndTime(new Date(row.from).toISOString(), zone).day}</span>
            <span className="flex flex-wrap gap-1">
              {row.bands.map((one) => (
                <button
                  key={one.from_at}
                  className={`min-h-9 border rounded-[3px] px-2 text-left ${LOOK[one.judged]}`}
                  onClick={() => onSet(one.from_at)}
                >
                  <b className="font-semibold">
                    {dayAndTime(one.from_at, zone).time} to {dayAndTime(one.to_at, zone).time}
                  </b>
                  <span className="sr-only">
                    , start {moment(one.from_at, zone)}: {WORDS[one.judged]}
                  </span>
                  {one.judged === "misses" ? <span className="text-slate"> {missing(one)}</span> : null}
                  {start && one.from_at <= start && start < one.to_at ? (
                    <span className="text-spruce font-semibold"> now set</span>
                  ) : null}
                </button>
              ))}
            </span>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-[12.5px] text-slate">
        Filled: everything meets somebody. Dashed: something meets nobody. Not shown: nobody could mix, or
        preparation is not done. By the windows as they stand now.
      </p>
    </div>
  );
}

function missing(band: Band): string {
  const windows = band.misses ?? 0;
  const alone = band.alone ?? 0;
  return [
    windows ? `${windows} ${windows === 1 ? "window" : "windows"} missed` : "",
    alone ? `${alone} ${alone === 1 ? "thing" : "things"} with nobody` : "",
  ]
    .filter(Boolean)
    .join(", ");
}

function cut(band: Band, from: number, to: number): Band[] {
  const begin = Math.max(new Date(band.from_at).getTime(), from);
  const end = Math.min(new Date(band.to_at).getTime(), to);
  if (end <= begin) return [];
  return [{ ...band, from_at: new Date(begin).toISOString(), to_at: new Date(end).toISOString() }];
}
