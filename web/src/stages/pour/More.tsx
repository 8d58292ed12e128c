/** What can be said beside a step: a note, a photo, a reading; and leaving a step out, or ending the run. */
import { keepFile, listInstruments, readLevel } from "../../api/operations.generated";
import { useRef, useState } from "react";
import type { ScriptStep } from "../../domain/run";
import { NumberPad } from "../mix/weigh/NumberPad";
import type { OpenRun } from "./useRun";

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
  const [pad, setPad] = useState<"surface_c" | "room_c" | null>(null);
  const [says, setSays] = useState("");
  const [ending, setEnding] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const pour = step?.pour ?? null;

  const photo = async (picked: File) => {
    setSays("Sending the photo …");
    try {
      const kept = await keepFile(picked, { name: picked.name.slice(-120) });
      open.say({ kind: "photo", sha256: kept.sha256, step: step?.id ?? "" });
      setSays("The photo is in the record.");
    } catch (error) {
      setSays(
        `${(error as Error).message} The photo is still on this device: send it again when the connection is back.`,
      );
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
      setSays(`${found.value.toFixed(1)} °C from ${found.device} is in the record.`);
    } catch (error) {
      setSays((error as Error).message);
    }
  };
  const shopLevel = async () => {
    try {
      const found = await readLevel();
      const slope = (degrees: number) => Math.round(Math.tan((degrees * Math.PI) / 180) * 10_000) / 10;
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
        `${slope(found.pitch_deg)} mm a metre along, ${slope(found.roll_deg)} across from ${found.device}, are in the record.`,
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
        value: Math.round(Math.tan((event.beta * Math.PI) / 180) * 10_000) / 10,
        pour,
      });
      open.say({
        kind: "reading",
        what: "level_across",
        value: Math.round(Math.tan((event.gamma * Math.PI) / 180) * 10_000) / 10,
        pour,
      });
      setSays(
        `${(Math.tan((event.beta * Math.PI) / 180) * 1000).toFixed(1)} mm a metre along, ${(Math.tan((event.gamma * Math.PI) / 180) * 1000).toFixed(1)} across, are in the record.`,
      );
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
              setSays("The note is in the record.");
            }}
          >
            Keep the note
          </button>
          <button className="big-quiet" onClick={onClose}>
            Back to the steps
          </button>
        </div>
        <div className="border-t border-line pt-3 flex flex-wrap justify-between gap-10">
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
          title={pad === "surface_c" ? "Surface temperature" : "Room temperature"}
          plain="°C"
          onClose={() => setPad(null)}
          onTake={(value, typed) => {
            open.say({ kind: "reading", what: pad, value, pour: pad === "room_c" ? null : pour, by: "hand" });
            setSays(`${typed} is in the record.`);
            setPad(null);
          }}
        />
      ) : null}
    </div>
  );
}
