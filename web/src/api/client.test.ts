import { afterEach, describe, expect, it, vi } from "vitest";
import { call, Refused, Unreachable } from "./client";
import { listPieces, readPiece, retireGood, savePiece } from "./operations.generated";

const answers = (status: number, data: unknown) =>
  vi.stubGlobal(
    "fetch",
    vi.fn(async () => new Response(data === undefined ? null : JSON.stringify(data), { status })),
  );
const asked = () => vi.mocked(fetch).mock.calls[0] as [string, RequestInit];

afterEach(() => vi.unstubAllGlobals());

describe("a question to the server", () => {
  it("carries path, query and body as the operation has them", async () => {
    answers(200, { pieces: [], total: 0 });
    await listPieces({ search: "a b&c", limit: 5, offset: undefined });
    expect(asked()[0]).toBe("/api/v1/pieces?search=a+b%26c&limit=5");
    answers(204, undefined);
    await retireGood("recipe", "a/b");
    expect(asked()[0]).toBe("/api/v1/goods/recipe/a%2Fb");
    expect(asked()[1].method).toBe("DELETE");
    answers(409, { status: 409, title: "", detail: "changed meanwhile" });
    await expect(savePiece(3, { base_revision: 1, piece: { name: "x" }, what: "name" })).rejects.toThrow(
      "changed meanwhile",
    );
    expect(JSON.parse(asked()[1].body as string)).toMatchObject({ base_revision: 1, what: "name" });
  });

  it("takes no answer that lacks what it must have", async () => {
    answers(200, { id: 3 });
    await expect(readPiece(3)).rejects.toThrow("Nothing was changed");
    answers(200, "a page of some proxy");
    await expect(readPiece(3)).rejects.toBeInstanceOf(Refused);
  });

  it("tells a server that is away from one that refuses", async () => {
    vi.stubGlobal("fetch", async () => Promise.reject(new TypeError("no network")));
    await expect(call("GET", "/x")).rejects.toBeInstanceOf(Unreachable);
    answers(503, {});
    await expect(call("GET", "/x")).rejects.toBeInstanceOf(Unreachable);
    answers(500, "<html>");
    await expect(call("GET", "/x")).rejects.toThrow("Cavatum could not answer");
  });
});
