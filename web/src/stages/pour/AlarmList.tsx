/** Which alarms are set on this page, and what of sound and screen can be relied on. Never silent about it. */
import type { Alarm } from "../../domain/run";
import { beep, wakeSound } from "../../ui/alarms";
import { clockTime } from "./words";

export function AlarmList({
  alarms,
  sounds,
  awake,
  zone,
  isAway,
}: {
  alarms: Alarm[];
  sounds: boolean;
  awake: boolean;
  zone: string;
  isAway: boolean;
}) {
  return (
    <section
      aria-label="Alarms"
      className="border-t border-line mt-2 pt-1 text-[17px] flex flex-wrap items-center justify-between gap-x-6"
    >
      <p className="py-2">
        {alarms.length ? (
          <>
            <b className="font-semibold">Alarms set here:</b>{" "}
            {alarms.map((one) => `${clockTime(one.at, zone)} ${one.words}`).join("; ")}.
          </>
        ) : (
          "No alarm is set just now."
        )}{" "}
        {isAway
          ? "They go on without the connection, while this page is open."
          : "They sound while this page is open; the calendar has them too."}
      </p>
      <p className="flex flex-wrap gap-x-4 items-center">
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
      </p>
    </section>
  );
}
