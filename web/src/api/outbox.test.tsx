import "fake-indexeddb/auto";
import { IDBFactory } from "fake-indexeddb";
import { act, renderHook, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { close, useOutbox } from "./outbox";

interface Tap {
  event_id: string;
  at: string;
}
const tap = (event_id: string, at = "2026-03-02T12:00:00Z"): Tap => ({ event_id, at });
const open = (of: string | null) =>
  renderHook((at: string | null) => useOutbox<Tap>(at), { initialProps: of });
const ids = (entries: Tap[]) => entries.map((one) => one.event_id);

beforeEach(() => {
  vi.stubGlobal("indexedDB", new IDBFactory());
  localStorage.clear();
});
afterEach(async () => {
  await close();
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

describe("the outbox", () => {
  it("keeps entries in their order until they are done, also for the next page", async () => {
    const page = open("run/1");
    await act(async () => {
      await page.result.current.add(tap("b"));
      await page.result.current.add(tap("a"));
    });
    page.unmount();
    const next = open("run/1");
    await waitFor(() => expect(ids(next.result.current.waiting)).toEqual(["b", "a"]));
    await act(() => next.result.current.done([tap("b")]));
    next.unmount();
    const last = open("run/1");
    await waitFor(() => expect(ids(last.result.current.waiting)).toEqual(["a"]));
  });

  it("shows an entry at once and drops it though it was not yet written when it was done", async () => {
    const page = open("run/1");
    await act(async () => {
      const written = page.result.current.add(tap("a"));
      expect(ids(page.result.current.current())).toEqual(["a"]);
      await page.result.current.done([tap("a")]);
      await written;
    });
    expect(page.result.current.waiting).toEqual([]);
    page.unmount();
    const next = open("run/1");
    await act(async () => void (await next.result.current.refresh()));
    expect(next.result.current.waiting).toEqual([]);
  });

  it("keeps what belongs to another run apart", async () => {
    const page = open("run/1");
    await act(() => page.result.current.add(tap("a")));
    const other = open("run/2");
    await act(async () => void (await other.result.current.refresh()));
    expect(other.result.current.waiting).toEqual([]);
  });

  it("sees what another page of the device has left", async () => {
    const [one, two] = [open("run/1"), open("run/1")];
    await act(() => one.result.current.add(tap("a")));
    await act(async () => void (await two.result.current.refresh()));
    expect(ids(two.result.current.waiting)).toEqual(["a"]);
  });

  it("says so where the device keeps nothing, and still holds the entry", async () => {
    vi.spyOn(indexedDB, "open").mockImplementation(() => {
      throw new DOMException("full", "QuotaExceededError");
    });
    const page = open("run/1");
    await act(() => page.result.current.add(tap("a")));
    expect(page.result.current.isKept).toBe(false);
    await act(async () => void (await page.result.current.refresh()));
    expect(ids(page.result.current.waiting)).toEqual(["a"]);
  });

  it("keeps one that was refused apart with the reason", async () => {
    const page = open("run/1");
    await act(async () => {
      await page.result.current.add(tap("a"));
      await page.result.current.refuse(tap("a"), "it is not of this run");
    });
    expect(page.result.current.waiting).toEqual([]);
    const request = indexedDB.open("cavatum-outbox");
    const rows = await new Promise((resolve) => {
      request.onsuccess = () => {
        const all = request.result.transaction("refused").objectStore("refused").getAll();
        all.onsuccess = () => resolve(all.result);
      };
    });
    expect(rows).toEqual([{ of: "run/1", entry: tap("a"), why: "it is not of this run" }]);
    request.result.close();
  });

  it("takes over what releases up to 0.7 kept, in the order of time, once", async () => {
    localStorage.setItem("cavatum-said-1-x", JSON.stringify(tap("late", "2026-03-02T12:05:00Z")));
    localStorage.setItem("cavatum-said-1-y", JSON.stringify(tap("early", "2026-03-02T12:01:00Z")));
    localStorage.setItem("cavatum-said-12-z", JSON.stringify(tap("other")));
    localStorage.setItem("cavatum-weighing-7", JSON.stringify([tap("first"), tap("second")]));
    const run = open("run/1");
    await waitFor(() => expect(ids(run.result.current.waiting)).toEqual(["early", "late"]));
    const weighing = open("weighing/7");
    await waitFor(() => expect(ids(weighing.result.current.waiting)).toEqual(["first", "second"]));
    expect(Object.keys(localStorage)).toEqual(["cavatum-said-12-z"]);
  });
});
