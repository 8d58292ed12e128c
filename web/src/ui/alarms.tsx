/** Alarms of an open page: sound, vibration and a flash over the whole screen, until somebody says it was
 *  heard. */
import { useEffect, useRef, useState } from "react";

export interface Ringing {
  id: string;
  words: string;
  where: string;
  late: number;
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
  if (!audio || audio.state !== "running") return;
  for (const [at, pitch] of [
    [0, 880],
    [0.22, 1175],
    [0.44, 880],
  ] as const) {
    const tone = audio.createOscillator();
    const loud = audio.createGain();
    tone.frequency.value = pitch;
    tone.type = "square";
    loud.gain.setValueAtTime(0.18, audio.currentTime + at);
    loud.gain.linearRampToValueAtTime(0, audio.currentTime + at + 0.2);
    tone.connect(loud).connect(audio.destination);
    tone.start(audio.currentTime + at);
    tone.stop(audio.currentTime + at + 0.2);
  }
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
