import "fake-indexeddb/auto";
import { IDBFactory } from "fake-indexeddb";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, renderHook, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import * as client from "../../../api/client";
import { close } from "../../../api/outbox";
import { newerOf, useWeighing, type WeighEvent, type Weighing } from "./useWeighing";

const weighing = (version: number, reading = 0): Weighing =>
  ({ id: 7, state: { version, ended: false }, live: { net_kg: reading } }) as unknown as Weighing;
const TAKEN: WeighEvent = { kind: "zero", gross_kg: 0.18 };
type Call = (method: string, path: string, sent?: { body?: unknown }) => Promise<unknown>;

let server: Call;
const sent = vi.fn<(body: unknown) => void>();

function open() {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={queries}>{children}</QueryClientProvider>
  );
  return renderHook(() => useWeighing(1, 1, 1), { wrapper });
}

beforeEach(() => {
  vi.stubGlobal("indexedDB", new IDBFactory());
  sent.mockClear();
  let version = 0;
  server = async (method, path, told) => {
    if (method === "POST" && path.endsWith("/entries")) {
      sent(told?.body);
      version += 1;
    }
    return weighing(version);
  };
  vi.spyOn(client, "call").mockImplementation(((...args: Parameters<Call>) => server(...args)) as never);
});
afterEach(async () => {
  await close();
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

describe("a batch at the scale", () => {
  it("never goes back to a look that left before the newest entry", async () => {
    const page = open();
    await waitFor(() => expect(page.result.current.weighing).toBeDefined());
    let arrive: (answer: Weighing) => void = () => undefined;
    const fast = server;
    server = (method, path, body) =>
      method === "GET" ? new Promise((resolve) => (arrive = resolve)) : fast(method, path, body);
    const before = vi.mocked(client.call).mock.calls.length;
    await waitFor(() => expect(vi.mocked(client.call).mock.calls.length).toBeGreaterThan(before));
    await act(async () => page.result.current.enter(TAKEN));
    await waitFor(() => expect(page.result.current.weighing!.state.version).toBe(1));
    await act(async () => {
      arrive(weighing(0));
      await new Promise((resolve) => setTimeout(resolve, 50)); // the cache tells its readers a little later
    });
    expect(page.result.current.weighing!.state.version).toBe(1);
  });

  it("shows the newer reading of the same entries", () => {
    expect(newerOf(weighing(2, 0.1), weighing(2, 0.2)).live.net_kg).toBe(0.2);
    expect(newerOf(weighing(2), weighing(3)).state.version).toBe(3);
    expect(newerOf(undefined, weighing(0)).state.version).toBe(0);
  });

  it("keeps entries while the server is away and sends each once, in order, under its own number", async () => {
    const page = open();
    await waitFor(() => expect(page.result.current.weighing).toBeDefined());
    const there = server;
    server = async (method, path, body) => {
      if (method === "POST") throw new client.Unreachable();
      return there(method, path, body);
    };
    await act(async () => page.result.current.enter(TAKEN));
    await act(async () => page.result.current.enter({ ...TAKEN, gross_kg: 0.2 }));
    await waitFor(() => expect(page.result.current.isLost).toBe(true));
    expect(page.result.current.waiting).toBe(2);
    server = there;
    await waitFor(() => expect(page.result.current.waiting).toBe(0), { timeout: 5000 });
    const bodies = sent.mock.calls.map(([body]) => body as { after: number; event: { gross_kg: number } });
    expect(bodies.map((one) => [one.after, one.event.gross_kg])).toEqual([
      [0, 0.18],
      [1, 0.2],
    ]);
  });

  it("says a refusal and does not try what was refused again", async () => {
    const page = open();
    await waitFor(() => expect(page.result.current.weighing).toBeDefined());
    const there = server;
    server = async (method, path, body) => {
      if (method === "POST")
        throw new client.Refused({ title: "no", status: 422, detail: "That part is in already." } as never);
      return there(method, path, body);
    };
    await act(async () => page.result.current.enter(TAKEN));
    await waitFor(() => expect(page.result.current.problem).toBe("That part is in already."));
    expect(page.result.current.waiting).toBe(0);
  });
});
