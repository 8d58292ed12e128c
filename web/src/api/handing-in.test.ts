import { afterEach, describe, expect, it, vi } from "vitest";
import * as client from "./client";
import { handedIn } from "./handing-in";

afterEach(() => vi.restoreAllMocks());

describe("a device that was put out", () => {
  it("hands in what it holds, with a token asked for anew, and says who decides", async () => {
    const calls: string[] = [];
    vi.spyOn(client, "call").mockImplementation((async (method: string, path: string) => {
      calls.push(`${method} ${path}`);
      return path === "/handed-in" ? { device: "bench tablet", taken: 2 } : { csrf_token: "t" };
    }) as never);
    const said = await handedIn({ runs: [{ run_id: 3, events: [] }] });
    expect(calls).toEqual(["GET /pairing", "POST /handed-in"]);
    expect(said).toContain("bench tablet is no longer let in. 2 entries that were still here");
  });

  it("is told apart from a person who was logged out: nothing is handed in, all is kept", async () => {
    vi.spyOn(client, "call").mockRejectedValue(
      new client.Refused({ title: "", status: 422, detail: "none", problems: [] } as never),
    );
    expect(await handedIn({ runs: [] })).toBeNull();
  });
});
