/** The browser's own voice and ears. Nothing leaves the device without a word about it: a voice that lies on the
 *  device speaks at once, others and every ear that listens elsewhere ask first. */
import { useEffect, useRef, useState } from "react";
import { useLatest } from "./useLatest";

interface Heard {
  results: { isFinal: boolean; 0: { transcript: string } }[];
}
interface Ear extends EventTarget {
  lang: string;
  continuous: boolean;
  processLocally?: boolean;
  start: () => void;
  abort: () => void;
  onresult: ((heard: Heard) => void) | null;
  onend: (() => void) | null;
  onerror: ((error: { error: string }) => void) | null;
}
interface EarMaker {
  new (): Ear;
  available?: (asked: { langs: string[]; processLocally: boolean }) => Promise<string>;
}

const LANGUAGE = "en";
const earMaker = (): EarMaker | null => {
  const all = window as unknown as { SpeechRecognition?: EarMaker; webkitSpeechRecognition?: EarMaker };
  return all.SpeechRecognition ?? all.webkitSpeechRecognition ?? null;
};

export type Where = "here" | "elsewhere" | "nowhere";

/** Where a voice is made or speech understood: on this device, by its maker's computers, or not at all. */
const VOICES_WITHIN_MS = 2000;

export const mayHaveVoice = (): boolean => "speechSynthesis" in window;

/** Asked when it is wanted and not before: looking for them wakes parts of the browser that few pages need. */
export async function findVoice(): Promise<Where> {
  const look = (): Where => (voice("here") ? "here" : voice("elsewhere") ? "elsewhere" : "nowhere");
  if (look() === "nowhere")
    await new Promise<void>((found) => {
      window.speechSynthesis.addEventListener?.("voiceschanged", () => found(), { once: true });
      window.setTimeout(found, VOICES_WITHIN_MS);
    });
  return look();
}

function voice(where: Where): SpeechSynthesisVoice | undefined {
  return window.speechSynthesis
    .getVoices()
    .find((one) => one.lang.startsWith(LANGUAGE) && one.localService === (where === "here"));
}

export function speak(text: string, where: Where): void {
  if (where === "nowhere") return;
  const words = new SpeechSynthesisUtterance(text);
  words.voice = voice(where) ?? null;
  words.lang = words.voice?.lang ?? LANGUAGE;
  window.speechSynthesis.cancel();
  window.speechSynthesis.speak(words);
}

export const mayHaveEars = (): boolean => earMaker() !== null;

export async function findEars(): Promise<Where> {
  const maker = earMaker();
  if (!maker) return "nowhere";
  const found = await maker
    .available?.({ langs: ["en-US"], processLocally: true })
    .catch(() => "unavailable");
  return found === "available" ? "here" : "elsewhere";
}

export type Word = "done" | "later" | "how long";
const WORDS: [Word, RegExp][] = [
  ["how long", /\bhow (much )?long/],
  ["later", /\b(later|not yet|wait)\b/],
  ["done", /\b(done|finished|ready)\b/],
];

/** Of what was said: the one answer in it, none where there are two or where it is denied. */
export function wordIn(said: string): Word | null {
  const text = said.toLowerCase();
  if (/\b(not|isn't|aren't|never) (quite |yet )?(done|finished|ready)\b/.test(text)) return null;
  const found = WORDS.filter(([, pattern]) => pattern.test(text));
  return found.length === 1 ? found[0]![0] : null;
}

/** Listens while it is on; the browser ends a listening now and then, and it is begun again. Returns what keeps it
 *  from listening. */
export function useListening(on: boolean, where: Where, onWord: (word: Word) => void): string {
  const [problem, setProblem] = useState("");
  const newest = useLatest(onWord);
  const tries = useRef(0);
  useEffect(() => {
    const maker = earMaker();
    if (!on || !maker) return;
    setProblem("");
    tries.current = 0;
    let over = false;
    const ear = new maker();
    ear.lang = "en-US";
    ear.continuous = true;
    if (where === "here") ear.processLocally = true;
    ear.onresult = (heard) => {
      const last = heard.results[heard.results.length - 1];
      const word = last?.isFinal ? wordIn(last[0].transcript) : null;
      tries.current = 0;
      if (word) newest.current(word);
    };
    ear.onerror = ({ error }) => {
      if (error === "no-speech" || error === "aborted") return;
      over = true;
      setProblem(
        error === "not-allowed"
          ? "The browser may not use the microphone."
          : error === "network"
            ? "Listening needs a connection in this browser."
            : `Listening ended (${error}).`,
      );
    };
    ear.onend = () => {
      if (over || tries.current++ > 20) return;
      try {
        ear.start();
      } catch {
        // it had begun again by itself
      }
    };
    ear.start();
    return () => {
      over = true;
      ear.abort();
    };
  }, [on, where, newest]);
  return problem;
}
