/** The pictures that are kept of a watch: first and last side by side, and all of them one after the other. */
import { useEffect, useState } from "react";
import type { Schemas } from "../../../api/client";
import { moment } from "../../../domain/format";

const STEP_MS = 160;

export function Lapse({ watch, zone }: { watch: Schemas["WatchAnswer"]; zone: string }) {
  const kept = watch.kept;
  const [place, setPlace] = useState(0);
  const [plays, setPlays] = useState(false);
  const last = kept.length - 1;
  useEffect(() => {
    if (!plays) return;
    const timer = window.setInterval(() => {
      setPlace((now) => {
        if (now >= last) setPlays(false);
        return Math.min(now + 1, last);
      });
    }, STEP_MS);
    return () => window.clearInterval(timer);
  }, [plays, last]);
  if (kept.length < 2) return null;
  const url = (number: number) => `/api/v1/watches/${watch.id}/frames/${number}.jpg`;
  const [number, at] = kept[Math.min(place, last)]!;
  return (
    <section aria-label="The hour in pictures">
      <h2>The hour in pictures</h2>
      <div className="grid grid-cols-2 gap-3 mt-1 max-w-[640px]">
        {(
          [
            ["before", kept[0]!],
            ["after", kept[last]!],
          ] as const
        ).map(([name, [one, when]]) => (
          <figure key={name}>
            <img src={url(one)} alt={`${name}, ${moment(when, zone)}`} className="w-full" />
            <figcaption className="text-[13px] text-slate">
              {name}, {moment(when, zone)}
            </figcaption>
          </figure>
        ))}
      </div>
      <figure className="mt-3 max-w-[640px]">
        <img src={url(number)} alt={`the piece ${moment(at, zone)}, number ${number}`} className="w-full" />
        <figcaption className="flex flex-wrap gap-4 items-center text-[13.5px] mt-1">
          <button
            className="quiet"
            onClick={() => {
              if (place >= last) setPlace(0);
              setPlays(!plays);
            }}
          >
            {plays ? "Stop" : "Play"}
          </button>
          <input
            type="range"
            aria-label="Picture"
            min={0}
            max={last}
            value={Math.min(place, last)}
            onChange={(event) => setPlace(Number(event.target.value))}
            className="flex-1 min-w-[160px]"
          />
          {moment(at, zone)}, {place + 1} of {kept.length}
        </figcaption>
      </figure>
    </section>
  );
}
