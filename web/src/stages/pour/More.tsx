/** What can be said beside a step: a note, a photo, a reading; and leaving a step out, or ending the run. */
import { listInstruments, readLevel } from "../../api/operations.generated";
import { useRef, useState } from "react";
import { Link } from "react-router";
import type { ScriptStep } from "../../domain/run";
import { NumberPad } from "../mix/weigh/NumberPad";
import { degrees } from "../../domain/format";
import { fromWall } from "../../domain/time";
import { useUnits } from "../../ui/session";
import { degreeUnit, toCelsius } from "./units";
import type { OpenRun } from "./useRun";

/** mm a metre of a tilt in degrees, to a tenth. */
const slope = (degrees: number) => Math.round(Math.tan((degrees * Math.PI) / 180) * 10_000) / 10;

export function More({
  open,
  step,
  onClose,
  onSkip,
}: {
  open: OpenRun;
  step?: ScriptStep | undefined;
  onClose: () => void;
  onSkip: (() => void) | null;
}) {
  const [note, setNote] = useState("");
  const [pad, setPad] = useState<"surface_c" | "room_c" | "cup_c" | null>(null);
  const where = open.isAway ? "kept on this device until there is a connection" : "in the record";
  const [says, setSays] = useState("");
  const [ending, setEnding] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const pour = step?.pour ?? null;
  const { units, zone } = useUnits();
  const [then, setThen] = useState("");

  const photo = async (picked: File) => {
    setSays("Sending the photo …");
    try {
      setSays((await open.photos.add(picked, step?.id ?? "")) ? "The photo is in the record." : "");
    } catch (error) {
      setSays((error as Error).message);
    }
  };
  const fromInstrument = async () => {
    try {
      const { instruments } = await listInstruments();
      const found = instruments.find((one) => one.kind === "thermometer");
      if (!found || found.problem || found.value === null || found.value === undefined)
        return setSays(found?.problem || "No thermometer sends its lines: type what it shows.");
      open.say({
        kind: "reading",
        what: "surface_c",
        value: found.value,
        pour,
        by: found.stand_in ? "stand-in" : "instrument",
      });
      setSays(`${degrees(found.value, units)} from ${found.device} is ${where}.`);
    } catch (error) {
      setSays((error as Error).message);
    }
  };
  const shopLevel = async () => {
    try {
      const found = await readLevel();
      open.say({
        kind: "reading",
        what: "level_along",
        value: slope(found.pitch_deg),
        pour,
        by: "instrument",
      });
      open.say({
        kind: "reading",
        what: "level_across",
        value: slope(found.roll_deg),
        pour,
        by: "instrument",
      });
      setSays(
        `${slope(found.pitch_deg)} mm a metre along, ${slope(found.roll_deg)} across from ${found.device}, are ${where}.`,
      );
    } catch (error) {
      setSays((error as Error).message);
    }
  };
  const level = () => {
    const once = (event: DeviceOrientationEvent) => {
      window.removeEventListener("deviceorientation", once);
      if (event.beta === null || event.gamma === null)
        return setSays("This phone tells no tilt to this page: type it at the Measure stage.");
      open.say({
        kind: "reading",
        what: "level_along",
        value: slope(event.beta),
        pour,
      });
      open.say({
        kind: "reading",
        what: "level_across",
        value: slope(event.gamma),
        pour,
      });
      setSays(`${slope(event.beta)} mm a metre along, ${slope(event.gamma)} across, are ${where}.`);
    };
    window.addEventListener("deviceorientation", once);
    window.setTimeout(() => {
      window.removeEventListener("deviceorientation", once);
      setSays((now) => now || "This device has no tilt sensor, or the page may not read it.");
    }, 1500);
  };
  return (
    <div
      role="dialog"
      aria-modal="true"
      aria-label="Note, photo, reading"
      className="fixed inset-0 z-50 bg-paper overflow-auto p-6 max-sm:p-4"
      onKeyDown={(event) => event.key === "Escape" && onClose()}
    >
      <div className="max-w-[1000px] mx-auto grid gap-5">
        <h2 className="text-[34px]!">Into the record</h2>
        {open.problem ? (
          <p role="alert" className="text-[18px] font-semibold text-rust">
            {open.problem}
          </p>
        ) : null}
        {open.photos.waiting || open.photos.problem ? (
          <p role="status" className="text-[18px]">
            {open.photos.problem ||
              `${open.photos.waiting === 1 ? "One photo is" : `${open.photos.waiting} photos are`} kept on this device and sent when the connection is back.`}
          </p>
        ) : null}
        {says ? (
          <p role="status" className="text-[19px] font-semibold">
            {says}
          </p>
        ) : null}
        <div className="grid grid-cols-2 max-sm:grid-cols-1 gap-4">
          <button autoFocus className="big-box text-[20px]!" onClick={() => void fromInstrument()}>
            Surface from the infrared
          </button>
          <button className="big-box text-[20px]!" onClick={() => setPad("surface_c")}>
            Surface, typed
          </button>
          {step?.kind === "pour" ? (
            <button className="big-box text-[20px]!" onClick={() => setPad("cup_c")}>
              Cup, typed
            </button>
          ) : null}
          <button className="big-box text-[20px]!" onClick={() => setPad("room_c")}>
            Room, typed
          </button>
          <button className="big-box text-[20px]!" onClick={level}>
            Level of this phone
          </button>
          <button className="big-box text-[20px]!" onClick={() => void shopLevel()}>
            Level of the workshop
          </button>
          <button className="big-box text-[20px]!" onClick={() => file.current?.click()}>
            Photo
          </button>
          {open.run?.is_rehearsal ? null : (
            <Link
              className="big-box text-[20px]! grid place-content-center"
              to={`/runs/${open.run!.id}/side-light`}
            >
              Photo in low side light: count spots
            </Link>
          )}
          <button
            className="big-box text-[20px]!"
            onClick={() => {
              open.say({ kind: "attach", pour: open.state!.attached === pour ? null : pour });
              setSays(
                open.state!.attached === pour
                  ? "The probe is out of it."
                  : "The probe logger lies in this pour from now on.",
              );
            }}
          >
            {open.state!.attached === pour && pour ? "Probe is out" : "Probe is in this pour"}
          </button>
        </div>
        <input
          ref={file}
          type="file"
          accept="image/*"
          capture="environment"
          className="hidden"
          aria-label="Photo"
          onChange={(event) => {
            const picked = event.target.files?.[0];
            if (picked) void photo(picked);
          }}
        />
        <label className="grid gap-1 text-[18px]">
          Note
          <textarea
            className="box text-[20px]! min-h-[96px]"
            maxLength={2000}
            value={note}
            onChange={(event) => setNote(event.target.value)}
          />
        </label>
        <div className="flex flex-wrap justify-between gap-6">
          <button
            className="big-key"
            disabled={!note.trim()}
            onClick={() => {
              open.say({ kind: "note", text: note.trim(), step: step?.id ?? "" });
              setNote("");
              setSays(`The note is ${where}.`);
            }}
          >
            Keep the note
          </button>
          <button className="big-quiet" onClick={onClose}>
            Back to the steps
          </button>
        </div>
        <div className="border-t border-line pt-3 flex flex-wrap justify-between gap-10">
          {step ? (
            <span className="flex flex-wrap items-center gap-3 text-[18px]">
              <label>
                It was done already, at{" "}
                <input
                  type="datetime-local"
                  className="box max-w-60 text-[18px]!"
                  value={then}
                  onChange={(event) => setThen(event.target.value)}
                />
              </label>
              <button
                className="big-quiet"
                disabled={!then}
                onClick={() => {
                  const at = +new Date(fromWall(then, zone));
                  open.say(
                    step.kind === "test"
                      ? { kind: "test", step: step.id, result: "passed", found: [] }
                      : { kind: "done", step: step.id, unticked: 0, knowing: false },
                    at,
                  );
                  onClose();
                }}
              >
                {step.kind === "test" ? "Passed then" : "Done then"}
              </button>
            </span>
          ) : null}
          {onSkip ? (
            <button
              className="big-quiet"
              onClick={() => {
                onSkip();
                onClose();
              }}
            >
              Leave this step out
            </button>
          ) : (
            <span />
          )}
          {ending ? (
            <span className="flex flex-wrap gap-8">
              <button
                className="big-box px-5 text-[19px]!"
                onClick={() => open.say({ kind: "end", how: "finished" })}
              >
                End: it is finished
              </button>
              <button
                className="big-box px-5 text-[19px]! text-rust border-rust!"
                onClick={() => open.say({ kind: "end", how: "given up" })}
              >
                End: given up
              </button>
            </span>
          ) : (
            <button className="big-quiet" onClick={() => setEnding(true)}>
              End this run …
            </button>
          )}
        </div>
      </div>
      {pad ? (
        <NumberPad
          title={
            { surface_c: "Surface temperature", room_c: "Room temperature", cup_c: "Temperature of the cup" }[
              pad
            ]
          }
          plain={degreeUnit(units)}
          onClose={() => setPad(null)}
          onTake={(value, typed) => {
            open.say({
              kind: "reading",
              what: pad,
              value: toCelsius(value, units),
              pour: pad === "room_c" ? null : pour,
              by: "hand",
              step: pad === "cup_c" ? (step?.id ?? "") : "",
            });
            setSays(`${typed} is in the record.`);
            setPad(null);
          }}
        />
      ) : null}
    </div>
  );
}
