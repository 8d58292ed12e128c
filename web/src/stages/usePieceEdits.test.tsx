import { QueryClient } from "@tanstack/react-query";
import { act, renderHook, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Refused, Unreachable } from "../api/client";
import * as operations from "../api/operations.generated";
import { keys, type Piece, type Stored } from "../api/queries";
import { shop } from "../test-shop";
import { usePieceEdits } from "./usePieceEdits";

const stored = (revision: number, piece: Partial<Piece>): Stored =>
  ({ id: 1, revision, piece: { name: "Tray", ...piece }, can_undo: revision > 1, can_redo: false }) as Stored;

let queries: QueryClient;
beforeEach(() => {
  queries = new QueryClient();
  queries.setQueryData(keys.piece(1), stored(1, {}));
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});
const open = () => renderHook(() => usePieceEdits(1), { wrapper: shop("metric", queries) });

describe("edits of a piece", () => {
  it("are saved in order, each on the revision that the one before made", async () => {
    const save = vi
      .spyOn(operations, "savePiece")
      .mockImplementation(async (_, body) => stored(body.base_revision + 1, body.piece));
    const { result } = open();
    await act(async () => {
      await Promise.all([
        result.current.edit("name", (piece) => ({ ...piece, name: "Fern tray" })),
        result.current.edit("tint", (piece) => ({ ...piece, tint: "#7C8C86" })),
      ]);
    });
    expect(save.mock.calls.map(([, body]) => [body.base_revision, body.what])).toEqual([
      [1, "name"],
      [2, "tint"],
    ]);
    expect(queries.getQueryData<Stored>(keys.piece(1))!.piece).toMatchObject({
      name: "Fern tray",
      tint: "#7C8C86",
    });
  });

  it("wait for a server that is away, and say so", async () => {
    vi.useFakeTimers({ shouldAdvanceTime: true });
    const save = vi.spyOn(operations, "savePiece").mockRejectedValueOnce(new Unreachable());
    save.mockImplementation(async (_, body) => stored(2, body.piece));
    const { result } = open();
    let done: Promise<unknown> = Promise.resolve();
    act(() => void (done = result.current.edit("name", (piece) => ({ ...piece, name: "x" }))));
    await waitFor(() => expect(result.current.state).toBe("waiting for the server"));
    await act(async () => {
      await vi.advanceTimersByTimeAsync(2_500);
      await done;
    });
    expect(result.current.state).toBe("saved");
    expect(save).toHaveBeenCalledTimes(2);
  });

  it("are given back to their field where they are refused", async () => {
    vi.spyOn(operations, "savePiece").mockRejectedValue(
      new Refused({ title: "", status: 422, detail: "A name, please." } as never),
    );
    const { result } = open();
    await act(async () => {
      await expect(result.current.edit("name", (piece) => piece)).rejects.toThrow("A name, please.");
    });
    expect(result.current.state).toBe("saved");
  });

  it("that clash with another device's are shown joined, and settled on the newest revision", async () => {
    const clash = { pointer: "/name", mine: "a", theirs: "b" };
    const save = vi.spyOn(operations, "savePiece").mockRejectedValueOnce(
      new Refused({
        title: "",
        status: 409,
        detail: "",
        head: 5,
        merged: { name: "b" },
        clashes: [clash],
      } as never),
    );
    save.mockImplementation(async (_, body) => stored(6, body.piece));
    const { result } = open();
    await act(async () => void (await result.current.edit("name", (piece) => ({ ...piece, name: "a" }))));
    expect(result.current.conflict).toMatchObject({ head: 5, clashes: [clash] });
    await act(async () => void (await result.current.settle({ name: "a" } as Piece)));
    expect(save.mock.lastCall![1]).toMatchObject({ base_revision: 5, piece: { name: "a" } });
    expect(result.current.conflict).toBeNull();
  });

  it("are undone only where there is something to undo", async () => {
    const undo = vi.spyOn(operations, "undoPiece").mockResolvedValue(stored(3, {}));
    const { result } = open();
    await act(async () => void (await result.current.step("undo")));
    expect(undo).not.toHaveBeenCalled();
    queries.setQueryData(keys.piece(1), stored(2, {}));
    await act(async () => void (await result.current.step("undo")));
    expect(undo).toHaveBeenCalledWith(1, { base_revision: 2 });
  });
});
