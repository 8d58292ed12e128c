import "fake-indexeddb/auto";
import { IDBFactory } from "fake-indexeddb";
import { act, renderHook, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import examples from "../../../../tests/examples/runs.json";
import * as client from "../../api/client";
import { close } from "../../api/outbox";
import { useRun } from "./useRun";

const answer = {
  now: "2026-03-02T12:00:00Z",
  speed: 1,
  events: [],
  ended: false,
  troubles: [],
};
const whole = { ...answer, id: 1, piece_id: 1, is_rehearsal: false, script: examples.script, mishaps: [] };

const note = { kind: "note", text: "seen" } as never;
let isAway = true;
const sent = vi.fn<(body: unknown) => void>();

beforeEach(() => {
  vi.stubGlobal("indexedDB", new IDBFactory());
  localStorage.clear();
  sent.mockClear();
  isAway = true;
  vi.spyOn(client, "call").mockImplementation((async (
    method: string,
    path: string,
    told?: { body?: unknown },
  ) => {
    if (method === "POST" && isAway) throw new client.Unreachable();
    if (method === "POST") sent(told?.body);
    return path.endsWith("/runs/1") ? whole : answer;
  }) as never);
});
afterEach(async () => {
  await close();
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

async function openRun() {
  const page = renderHook(() => useRun(1));
  await waitFor(() => expect(page.result.current.run).not.toBeNull());
  return page;
}

describe("what is tapped in a run", () => {
  it("waits on the device until the server has it, and is sent once, also by the next page", async () => {
    const page = await openRun();
    await act(async () => void page.result.current.say(note));
    await waitFor(() => expect(page.result.current.isAway).toBe(true));
    expect(page.result.current.waiting).toBe(1);
    expect(page.result.current.events.at(-1)?.event).toMatchObject({ kind: "note" });
    page.unmount();
    isAway = false;
    const next = await openRun();
    await waitFor(() => expect(sent).toHaveBeenCalledTimes(1));
    await waitFor(() => expect(next.result.current.waiting).toBe(0));
    expect(sent.mock.calls[0]![0]).toMatchObject({ events: [{ event: { kind: "note" }, seq: 1 }] });
  });

  it("is kept while the page is open where the device keeps nothing, and that is said", async () => {
    vi.spyOn(indexedDB, "open").mockImplementation(() => {
      throw new DOMException("full", "QuotaExceededError");
    });
    const page = await openRun();
    await act(async () => void page.result.current.say(note));
    await waitFor(() => expect(page.result.current.problem).toContain("storage is full"));
    expect(page.result.current.waiting).toBe(1);
    expect(page.result.current.events.at(-1)?.event).toMatchObject({ kind: "note" });
  });

  it("is seen at once at its own moment", async () => {
    const page = await openRun();
    await act(async () => void page.result.current.say(note));
    const last = page.result.current.events.at(-1)!;
    expect(page.result.current.now).toBeGreaterThanOrEqual(new Date(last.at).getTime());
  });
});
