/** Alarms of an open page: sound, vibration and a flash over the whole screen, until somebody says it was
 *  heard. */
import { useEffect, useRef, useState } from "react";
import { Marked } from "./Marked";
import { useLatest } from "./useLatest";

export interface Ringing {
  id: string;
  words: string;
  where: string;
  late: number;
  /** of what a camera saw */
  picture?: { src: string; size: [number, number]; marks: number[][] };
}

let audio: AudioContext | null = null;

/** Browsers let a page sound only after a tap; every tap on the page tries. */
export function wakeSound(): boolean {
  try {
    audio ??= new AudioContext();
    void audio.resume();
  } catch {
    return false;
  }
  return audio.state === "running";
}

export function beep(): void {
  if (audio?.state === "running") tones(audio, audio.currentTime);
}

/** Three tones from a moment of the sound's own clock on; returns what takes them back. */
function tones(sound: AudioContext, from: number): () => void {
  const made = [880, 1175, 880].map((pitch, place) => {
    const at = from + place * 0.22;
    const tone = sound.createOscillator();
    const loud = sound.createGain();
    tone.frequency.value = pitch;
    tone.type = "square";
    loud.gain.setValueAtTime(0.18, at);
    loud.gain.linearRampToValueAtTime(0, at + 0.2);
    tone.connect(loud).connect(sound.destination);
    tone.start(at);
    tone.stop(at + 0.2);
    return tone;
  });
  return () => made.forEach((one) => one.disconnect());
}

const AHEAD_MS = 12 * 3_600_000;
const TIMES = 6;

/** Lays alarms ahead on the sound's own clock: a page behind a locked screen runs no timers, its sound goes on
 *  where the system lets it. Taken back when the alarm is heard or moves. */
export function useAhead(moments: readonly { id: string; at: number }[], now: number, sounds: boolean): void {
  const soon = moments.filter((one) => one.at > now && one.at - now < AHEAD_MS);
  const key = soon.map((one) => `${one.id} ${Math.round(one.at / 1000)}`).join();
  const newest = useLatest({ soon, now });
  useEffect(() => {
    const sound = audio;
    if (!key || !sounds || sound?.state !== "running") return;
    const { soon: all, now: from } = newest.current;
    const back = all.flatMap((one) =>
      Array.from({ length: TIMES }, (_, again) =>
        tones(sound, sound.currentTime + (one.at - from) / 1000 + again * 1.6),
      ),
    );
    return () => back.forEach((take) => take());
  }, [key, sounds, newest]);
}

/** Whether the page may sound by now. */
export function useSound(): boolean {
  const [on, setOn] = useState(audio?.state === "running");
  useEffect(() => {
    const tap = () => {
      wakeSound();
      window.setTimeout(() => setOn(audio?.state === "running"), 80);
    };
    window.addEventListener("pointerdown", tap);
    window.addEventListener("keydown", tap);
    return () => {
      window.removeEventListener("pointerdown", tap);
      window.removeEventListener("keydown", tap);
    };
  }, []);
  return on;
}

/** The screen stays awake while the page is in front, where the browser can. */
export function useAwake(): boolean {
  const [awake, setAwake] = useState(false);
  useEffect(() => {
    let lock: WakeLockSentinel | null = null;
    const ask = async () => {
      if (document.visibilityState !== "visible" || !("wakeLock" in navigator)) return;
      try {
        lock = await navigator.wakeLock.request("screen");
        setAwake(true);
        lock.addEventListener("release", () => setAwake(false));
      } catch {
        setAwake(false);
      }
    };
    void ask();
    document.addEventListener("visibilitychange", ask);
    return () => {
      document.removeEventListener("visibilitychange", ask);
      void lock?.release();
    };
  }, []);
  return awake;
}

export function AlarmOverlay({
  ringing,
  onHeard,
}: {
  ringing: Ringing[];
  onHeard: (all: Ringing[]) => void;
}) {
  const ids = ringing.map((one) => one.id).join();
  const first = ringing[0]?.words ?? "";
  const key = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (!ids) return;
    const ring = () => {
      beep();
      // A page that nobody has tapped yet may not, and the browser would complain.
      if (navigator.userActivation?.hasBeenActive ?? true) navigator.vibrate?.([300, 120, 300]);
    };
    ring();
    if (document.hidden && "Notification" in window && Notification.permission === "granted")
      new Notification("Cavatum", { body: first, tag: ids });
    const again = window.setInterval(ring, 1600);
    const quiet = window.setTimeout(() => window.clearInterval(again), 90_000);
    key.current?.focus();
    return () => {
      window.clearInterval(again);
      window.clearTimeout(quiet);
    };
  }, [ids, first]);
  if (!ringing.length) return null;
  return (
    <div
      className="flash fixed inset-0 z-[60] grid content-center gap-6 p-6 text-center"
      role="alertdialog"
      aria-label="Alarm"
      aria-live="assertive"
    >
      <ul className="grid gap-4 max-h-[60dvh] overflow-auto">
        {ringing.slice(0, 6).map((one) => (
          <li key={one.id}>
            <p className="font-serif text-[40px] leading-[1.1] max-sm:text-[34px]">{one.words}</p>
            <p className="text-[20px] mt-1">
              {one.where}
              {one.late > 60_000 ? `, ${since(one.late)} ago` : ", now"}
            </p>
            {one.picture ? (
              <Marked {...one.picture} alt={one.words} className="mx-auto mt-3 max-h-[42dvh] max-w-full" />
            ) : null}
          </li>
        ))}
      </ul>
      {ringing.length > 6 ? <p className="text-[20px]">and {ringing.length - 6} more</p> : null}
      <button
        ref={key}
        className="big-key justify-self-center min-w-[260px] min-h-[96px] text-[30px]!"
        onClick={() => onHeard(ringing)}
      >
        Heard: go on
      </button>
    </div>
  );
}

export function since(ms: number): string {
  const minutes = Math.max(Math.round(ms / 60_000), 0);
  if (minutes < 90) return `${minutes} min`;
  const hours = Math.floor(minutes / 60);
  return hours < 48
    ? `${hours} h ${String(minutes % 60).padStart(2, "0")}`
    : `${Math.floor(hours / 24)} days`;
}
