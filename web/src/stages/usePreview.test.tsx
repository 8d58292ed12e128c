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
