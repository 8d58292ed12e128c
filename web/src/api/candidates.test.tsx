import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { renderHook, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, expect, it, vi } from "vitest";
import * as client from "./client";
import { useCandidates } from "./queries";

afterEach(() => vi.restoreAllMocks());

function served(whole: () => Promise<unknown>) {
  const asked: unknown[] = [];
  vi.spyOn(client, "call").mockImplementation((async (
    _: string,
    __: string,
    told: { query: { chances?: boolean } },
  ) => {
    asked.push(told.query.chances);
    return told.query.chances === false ? { candidates: ["quick"], is_pending: true } : whole();
  }) as never);
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={queries}>{children}</QueryClientProvider>
  );
  return { asked, hook: renderHook(() => useCandidates(1, 1), { wrapper }) };
}

it("shows the systems at once and their chances when they are there", async () => {
  let answer: (value: unknown) => void = () => undefined;
  const { asked, hook } = served(() => new Promise((resolve) => (answer = resolve)));
  await waitFor(() => expect(hook.result.current.candidates).toEqual(["quick"]));
  expect(hook.result.current.areChancesPending).toBe(true);
  await waitFor(() => expect(asked).toEqual([false, undefined]));
  answer({ candidates: ["whole"], is_pending: false });
  await waitFor(() => expect(hook.result.current.candidates).toEqual(["whole"]));
  expect(hook.result.current.areChancesPending).toBe(false);
});

it("says so when the chances fail, and keeps the rest", async () => {
  const { hook } = served(() => Promise.reject(new Error("No answer.")));
  await waitFor(() => expect(hook.result.current.error?.message).toBe("No answer."));
  expect(hook.result.current.candidates).toEqual(["quick"]);
  expect(hook.result.current.areChancesPending).toBe(false);
});
