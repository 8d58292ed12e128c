import { act, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { useAhead, wakeSound } from "./alarms";

/** A sound card's clock that stands at 100 s, and what was laid on it. */
const laid: { from: number; isGone: boolean }[] = [];

class Sound {
  currentTime = 100;
  state = "running";
  destination = {};
  resume() {
    return Promise.resolve();
  }
  createGain() {
    return {
      gain: { setValueAtTime() {}, linearRampToValueAtTime() {} },
      connect: () => ({}),
    };
  }
  createOscillator() {
    const tone = { from: 0, isGone: false };
    laid.push(tone);
    return {
      frequency: { value: 0 },
      type: "",
      connect: () => ({ connect: () => undefined }),
      start: (at: number) => (tone.from = at),
      stop: () => undefined,
      disconnect: () => (tone.isGone = true),
    };
  }
}

beforeEach(() => {
  laid.length = 0;
  vi.stubGlobal("AudioContext", Sound);
  wakeSound();
});
afterEach(() => vi.unstubAllGlobals());

const now = Date.UTC(2026, 2, 2, 12);
const minutes = (many: number) => now + many * 60_000;

test("an alarm is laid on the sound's own clock at its moment, and rings on for a while", () => {
  renderHook(() => useAhead([{ id: "round", at: minutes(10) }], now, true));
  const begins = [...new Set(laid.map((one) => Math.round(one.from * 10) / 10))];
  expect(Math.min(...begins)).toBeCloseTo(100 + 600, 1);
  expect(laid.length).toBe(18); // three tones, six times
  expect(Math.max(...laid.map((one) => one.from))).toBeGreaterThan(700 + 8);
});

test("it is taken back when it was heard, and laid anew when it moved", () => {
  const { rerender } = renderHook(({ moments }) => useAhead(moments, now, true), {
    initialProps: { moments: [{ id: "round", at: minutes(10) }] },
  });
  rerender({ moments: [{ id: "round", at: minutes(20) }] });
  expect(laid.slice(0, 18).every((one) => one.isGone)).toBe(true);
  expect(Math.min(...laid.slice(18).map((one) => one.from))).toBeCloseTo(100 + 1200, 1);
  rerender({ moments: [] });
  expect(laid.every((one) => one.isGone)).toBe(true);
});

test("what is past, far off, or comes while the sound is off is not laid", () => {
  const { rerender } = renderHook(
    ({ sounds }) =>
      useAhead(
        [
          { id: "past", at: minutes(-1) },
          { id: "tomorrow", at: minutes(24 * 60) },
          { id: "soon", at: minutes(1) },
        ],
        now,
        sounds,
      ),
    { initialProps: { sounds: false } },
  );
  expect(laid).toEqual([]);
  act(() => rerender({ sounds: true }));
  expect(laid.length).toBe(18);
});
