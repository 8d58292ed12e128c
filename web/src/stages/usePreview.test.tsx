import { act, renderHook, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import * as operations from "../api/operations.generated";
import type { Piece, Plan } from "../api/queries";
import { edgesOf } from "../domain/boundaries";
import type { Edits } from "./usePieceEdits";
import { useDragged, usePreview } from "./usePreview";

const layer = (from_m: number, to_m: number) => ({ void_id: "v", from_m, to_m, portion_id: "p" });
const plan = {
  pours: [{ layers: [layer(0, 0.02)] }, { layers: [layer(0.02, 0.04)] }],
} as unknown as Plan;
const piece = {
  name: "x",
  voids: [{ id: "v", name: "v", portions: [{ id: "p", boundaries_m: null }] }],
} as unknown as Piece;

afterEach(() => vi.restoreAllMocks());

function open(edit = vi.fn(async () => undefined)) {
  const edits = { edit } as unknown as Edits;
  let renders = 0;
  const page = renderHook(() => {
    renders += 1;
    return usePreview(piece, plan, "v", edits);
  });
  const boundary = renderHook(() => useDragged(page.result.current[1].dragged));
  return { page, boundary, renders: () => renders, edit };
}
const edge = edgesOf(plan, "v")[0]!;

describe("a dragged boundary", () => {
  it("renders who follows it, and the page only when figures arrive", async () => {
    let answer: (plan: Plan) => void = () => undefined;
    const tried = vi
      .spyOn(operations, "tryPlan")
      .mockImplementation(
        () => new Promise((resolve) => (answer = (found) => resolve({ plan: found } as never))),
      );
    const { page, boundary, renders } = open();
    const before = renders();
    for (const at of [0.021, 0.022, 0.023, 0.024])
      await act(async () => void page.result.current[1].move(edge, at, false));
    expect(boundary.result.current).toEqual({ layer: edge.layer, at: 0.024 });
    expect(renders()).toBe(before);
    expect(tried).toHaveBeenCalledTimes(1);
    const [, preview] = page.result.current;
    await act(async () => answer({ ...plan, made_at: "first" }));
    // What was asked meanwhile is asked for its last place only; the tools of the page stay the same objects.
    await waitFor(() => expect(tried).toHaveBeenCalledTimes(2));
    await act(async () => answer({ ...plan, made_at: "last" }));
    await waitFor(() => expect(page.result.current[0]).toMatchObject({ made_at: "last" }));
    expect(page.result.current[1]).toBe(preview);
  });

  it("goes back where the server refuses it, and says why", async () => {
    const { page, boundary } = open(vi.fn(async () => Promise.reject(new Error("Too thin."))));
    await act(async () => {
      await page.result.current[1].move(edge, 0.001, true).catch(() => undefined);
    });
    expect(boundary.result.current).toBeNull();
    expect(page.result.current[1].problem).toBe("Too thin.");
  });

  it("is kept as one edit when it is let go", async () => {
    const { page, edit } = open();
    await act(async () => void (await page.result.current[1].move(edge, 0.03, true, "3 cm")));
    expect(edit).toHaveBeenCalledTimes(1);
  });
});

describe("what is tried out", () => {
  /** Answers by hand, in the order in which they were asked. */
  function server() {
    const asked: { room: number | null | undefined; answer: (word: string) => Promise<void> }[] = [];
    vi.spyOn(operations, "tryPlan").mockImplementation(
      (body) =>
        new Promise((resolve) =>
          asked.push({
            room: body.room_c,
            answer: (word) => act(async () => resolve({ plan: { ...plan, made_at: word } } as never)),
          }),
        ),
    );
    return asked;
  }
  const shows = (page: ReturnType<typeof open>["page"]) => page.result.current[0]?.made_at;

  it("is asked one at a time, the newest next, and shown as a trial", async () => {
    const asked = server();
    const { page } = open();
    for (const room_c of [18, 19, 20]) act(() => page.result.current[1].trial({ piece, room_c }));
    expect(asked.map((one) => one.room)).toEqual([18]);
    await asked[0]!.answer("at 18");
    expect(asked.map((one) => one.room)).toEqual([18, 20]);
    await asked[1]!.answer("at 20");
    expect([shows(page), page.result.current[1].isTrial]).toEqual(["at 20", true]);
  });

  it("says nothing any more once it was put back", async () => {
    const asked = server();
    const { page } = open();
    act(() => page.result.current[1].trial({ piece, room_c: 18 }));
    act(() => page.result.current[1].trial({ piece, room_c: 19 }));
    act(() => page.result.current[1].trial(null));
    await asked[0]!.answer("late");
    expect(asked).toHaveLength(1);
    expect([shows(page), page.result.current[1].isTrial]).toEqual([undefined, false]);
  });

  it("goes on with the newest after one was refused", async () => {
    const refused = vi.spyOn(operations, "tryPlan").mockRejectedValueOnce(new Error("Too warm."));
    const { page } = open();
    await act(async () => page.result.current[1].trial({ piece, room_c: 44 }));
    expect(page.result.current[1].problem).toBe("Too warm.");
    refused.mockResolvedValue({ plan: { ...plan, made_at: "at 20" } } as never);
    await act(async () => page.result.current[1].trial({ piece, room_c: 20 }));
    expect([shows(page), page.result.current[1].problem]).toEqual(["at 20", ""]);
  });
});
