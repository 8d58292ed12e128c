import { act, renderHook } from "@testing-library/react";
import { afterEach, expect, test, vi } from "vitest";
import { findEars, useListening, wordIn } from "./speech";

afterEach(() => vi.unstubAllGlobals());

test.each([
  ["It's done.", "done"],
  ["finished", "done"],
  ["Later please", "later"],
  ["how long is it still", "how long"],
  ["it is not done", null],
  ["not quite ready", null],
  ["done later", null],
  ["pass me the brush", null],
])("%s is heard as %s", (said, word) => {
  expect(wordIn(said)).toBe(word);
});

function standIn(local?: string) {
  const made: StandIn[] = [];
  class StandIn {
    static available = local === undefined ? undefined : () => Promise.resolve(local);
    lang = "";
    continuous = false;
    processLocally: boolean | undefined;
    starts = 0;
    onresult: ((heard: unknown) => void) | null = null;
    onend: (() => void) | null = null;
    onerror: ((error: { error: string }) => void) | null = null;
    constructor() {
      made.push(this);
    }
    start() {
      this.starts += 1;
    }
    abort() {}
    hear(transcript: string, isFinal = true) {
      this.onresult?.({ results: [{ isFinal, 0: { transcript } }] });
    }
  }
  vi.stubGlobal("SpeechRecognition", StandIn);
  return made;
}

test("what is only understood elsewhere is known as that, and what is understood here too", async () => {
  standIn();
  expect(await findEars()).toBe("elsewhere");
  standIn("downloadable"); // it could be, and is not here
  expect(await findEars()).toBe("elsewhere");
  standIn("available");
  expect(await findEars()).toBe("here");
  vi.unstubAllGlobals();
  expect(await findEars()).toBe("nowhere");
});

test("it goes on listening when the browser ends, and says what keeps it from it", () => {
  const made = standIn();
  const words: string[] = [];
  const { result, unmount } = renderHook(() => useListening(true, "elsewhere", (word) => words.push(word)));
  const ear = made[0]!;
  act(() => ear.hear("done", false));
  act(() => ear.hear("done"));
  expect(words).toEqual(["done"]);
  act(() => ear.onend?.());
  expect(ear.starts).toBe(2);
  act(() => ear.onerror?.({ error: "not-allowed" }));
  expect(result.current).toContain("microphone");
  act(() => ear.onend?.());
  expect(ear.starts).toBe(2);
  unmount();
});
