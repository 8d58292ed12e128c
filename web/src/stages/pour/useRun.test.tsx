import { act } from "react";
import { createRoot, type Root } from "react-dom/client";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import examples from "../../../../tests/examples/runs.json";
import * as client from "../../api/client";
import { useRun, type OpenRun } from "./useRun";

const answer = {
  now: "2026-03-02T12:00:00Z",
  speed: 1,
  events: [],
  ended: false,
  troubles: [],
};
const whole = { ...answer, id: 1, piece_id: 1, is_rehearsal: false, script: examples.script, mishaps: [] };

let root: Root;
let open: OpenRun;

function Page() {
  open = useRun(1);
  return null;
}

beforeEach(async () => {
  vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
  localStorage.clear();
  vi.spyOn(client, "call").mockImplementation(async (method, path) => {
    if (method === "POST") throw new client.Unreachable();
    return (path.endsWith("/runs/1") ? whole : answer) as never;
  });
  root = createRoot(document.createElement("div"));
  await act(async () => root.render(<Page />));
});
afterEach(() => {
  act(() => root.unmount());
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

describe("what is tapped in a run", () => {
  it("is kept on the device until the server has it", async () => {
    await act(async () => void open.say({ kind: "note", text: "seen" } as never));
    expect(open.waiting).toBe(1);
    expect(Object.keys(localStorage).some((key) => key.startsWith("cavatum-said-1-"))).toBe(true);
  });

  it("is kept while the page is open where the storage is full, and that is said", async () => {
    vi.spyOn(Storage.prototype, "setItem").mockImplementation((key: string) => {
      if (key.startsWith("cavatum-said")) throw new DOMException("full", "QuotaExceededError");
    });
    await act(async () => void open.say({ kind: "note", text: "seen" } as never));
    expect(open.waiting).toBe(1);
    expect(open.problem).toContain("storage is full");
    expect(open.events.at(-1)?.event).toMatchObject({ kind: "note" });
  });
});
