import { act, renderHook } from "@testing-library/react";
import { expect, it } from "vitest";
import { useAttempts } from "./useAttempts";

function later() {
  const held: { answer?: (word: string) => void; refuse?: (wrong: Error) => void } = {};
  const work = new Promise<string>((resolve, reject) =>
    Object.assign(held, { answer: resolve, refuse: reject }),
  );
  return { work, ...(held as Required<typeof held>) };
}

it.each(["answer", "refuse"] as const)("lets no %s of something older speak over the newest", async (how) => {
  const { result } = renderHook(() => useAttempts());
  const older = later();
  const newer = later();
  let first: Promise<void>;
  act(() => void (first = result.current.attempt(() => older.work)));
  await act(async () => {
    const second = result.current.attempt(() => newer.work);
    newer.answer("90 readings taken in");
    await second;
  });
  await act(async () => {
    if (how === "answer") older.answer("Kept.");
    else older.refuse(new Error("lost"));
    await first;
  });
  expect(result.current.told).toBe("90 readings taken in");
  expect(result.current.problem).toBe("");
});

it("says why the newest failed, and takes the word of the one before away", async () => {
  const { result } = renderHook(() => useAttempts());
  await act(() => result.current.attempt(async () => "Kept."));
  await act(() => result.current.attempt(() => Promise.reject(new Error("No photo."))));
  expect([result.current.told, result.current.problem]).toEqual(["", "No photo."]);
});
