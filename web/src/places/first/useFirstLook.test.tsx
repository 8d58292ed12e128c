import { act, renderHook, waitFor } from "@testing-library/react";
import { beforeEach, expect, it, vi } from "vitest";
import type { FirstLook } from "./benches";
import { useFirstLook } from "./useFirstLook";

const asked: { look: FirstLook; answer: (said: unknown) => void; refuse: (why: Error) => void }[] = [];
vi.mock("../../api/operations.generated", () => ({
  firstLook: (look: FirstLook) => new Promise((answer, refuse) => asked.push({ look, answer, refuse })),
}));
const typed = (length: string): FirstLook =>
  ({ bench: "mould", readings: { length } }) as unknown as FirstLook;

beforeEach(() => void asked.splice(0));

it("asks one question at a time, and after it the newest", async () => {
  const page = renderHook(({ look }) => useFirstLook(look, "metric"), { initialProps: { look: typed("1") } });
  for (const length of ["12", "123"]) page.rerender({ look: typed(length) });
  expect(asked).toHaveLength(1);
  await act(async () => asked[0]!.answer({ system: "first" }));
  await waitFor(() => expect(asked).toHaveLength(2));
  expect(asked[1]!.look.readings).toEqual({ length: "123" });
  await act(async () => asked[1]!.answer({ system: "newest" }));
  expect(page.result.current.answer).toEqual({ system: "newest" });
});

it("keeps the last answer beside a refusal, but not for another kind of work", async () => {
  const page = renderHook(({ look }) => useFirstLook(look, "metric"), { initialProps: { look: typed("1") } });
  await act(async () => asked[0]!.answer({ system: "first" }));
  page.rerender({ look: typed("1/0") });
  await act(async () => asked[1]!.refuse(new Error("divided by 0")));
  expect(page.result.current.answer).toEqual({ system: "first" });
  expect(page.result.current.problem?.message).toBe("divided by 0");
  page.rerender({ look: { ...typed("1"), bench: "block or form" } });
  expect(page.result.current.answer).toBeNull();
});
