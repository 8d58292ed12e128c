import "fake-indexeddb/auto";
import { IDBFactory } from "fake-indexeddb";
import { act, renderHook, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import * as client from "./client";
import { close, usePhotos } from "./photos";

let answer: () => Promise<unknown>;
const photo = () => new File(["p"], "hair.jpg", { type: "image/jpeg" });

beforeEach(() => {
  vi.stubGlobal("indexedDB", new IDBFactory());
  vi.spyOn(client, "call").mockImplementation((() => answer()) as never);
});
afterEach(async () => {
  await close();
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

it("keeps a photo through a reload while nothing answers, and sends it once", async () => {
  const sent = vi.fn();
  answer = () => Promise.reject(new client.Unreachable("away"));
  const first = renderHook(() => usePhotos(7, sent));
  await act(() => first.result.current.add(photo(), "p1/pour"));
  await waitFor(() => expect(first.result.current.waiting).toBe(1));
  first.unmount();
  expect(sent).not.toHaveBeenCalled();

  answer = () => Promise.resolve({ sha256: "ab" });
  const again = renderHook(() => usePhotos(7, sent));
  await waitFor(() => expect(sent).toHaveBeenCalledWith("ab", "p1/pour"));
  await waitFor(() => expect(again.result.current.waiting).toBe(0));
  again.unmount();
  renderHook(() => usePhotos(7, sent));
  await new Promise((resolve) => setTimeout(resolve, 30));
  expect(sent).toHaveBeenCalledTimes(1);
});

it("says what was refused and does not send it again", async () => {
  answer = () => Promise.reject(new client.Refused({ status: 422, detail: "That is no photo." } as never));
  const hook = renderHook(() => usePhotos(7, vi.fn()));
  await act(() => hook.result.current.add(photo(), ""));
  await waitFor(() => expect(hook.result.current.problem).toBe("That is no photo."));
  await waitFor(() => expect(hook.result.current.waiting).toBe(0));
});

it("keeps what belongs to another run for that run", async () => {
  const sent = vi.fn();
  answer = () => Promise.reject(new client.Unreachable("away"));
  const other = renderHook(() => usePhotos(8, sent));
  await act(() => other.result.current.add(photo(), ""));
  other.unmount();
  answer = () => Promise.resolve({ sha256: "cd" });
  const mine = renderHook(() => usePhotos(7, sent));
  await new Promise((resolve) => setTimeout(resolve, 30));
  expect(mine.result.current.waiting).toBe(0);
  expect(sent).not.toHaveBeenCalled();
});
