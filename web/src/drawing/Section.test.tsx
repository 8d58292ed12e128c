import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import kept from "../../../tests/examples/plan-own-boundaries.json";
import type { Plan } from "../api/queries";
import { pageWidth, shop } from "../test-shop";
import { Section } from "./Section";

const working = { name: "", formula: "", inputs: [], value: 0, quantity: "count", source: "", notes: [] };
const workings = new Proxy({}, { get: () => working });
const plan = { ...kept.plan, workings } as unknown as Plan;
const section = plan.sections[0]!;

beforeEach(() => pageWidth(900));
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

function draw(units: "metric" | "us", onMove = vi.fn(), moved: { layer: number; at: number } | null = null) {
  render(
    <Section plan={plan} section={section} tint="#D39A3C" cursor={null} onMove={onMove} moved={moved} />,
    { wrapper: shop(units) },
  );
  return onMove;
}
const handles = () =>
  screen.getAllByRole("slider").filter((one) => one.getAttribute("aria-label")?.startsWith("Boundary"));

describe("the section", () => {
  it("has a handle on every boundary inside a colour, with its height in the workshop's units", () => {
    draw("metric");
    expect(handles().map((one) => one.getAttribute("aria-valuetext"))).toEqual(["20 mm", "35 mm"]);
    cleanup();
    draw("us");
    expect(handles()[0]!.getAttribute("aria-valuetext")).toMatch(/in$/);
  });

  it("moves a boundary by the arrow keys, a millimetre or a sixteenth, and no further than its neighbours", () => {
    const onMove = draw("metric");
    fireEvent.keyDown(handles()[0]!, { key: "ArrowUp" });
    expect(onMove.mock.lastCall).toEqual([expect.objectContaining({ layer: 0 }), 0.021, true]);
    fireEvent.keyDown(handles()[0]!, { key: "ArrowDown", shiftKey: true });
    expect(onMove.mock.lastCall![1]).toBeCloseTo(0.01, 12);
    fireEvent.keyDown(handles()[0]!, { key: "End" });
    expect(onMove.mock.lastCall![1]).toBeCloseTo(0.0345, 12);
    cleanup();
    const us = draw("us");
    fireEvent.keyDown(handles()[0]!, { key: "ArrowUp" });
    expect(us.mock.lastCall![1]).toBeCloseTo(0.02 + 0.0254 / 16, 12);
  });

  it("leaves other keys alone", () => {
    const onMove = draw("metric");
    fireEvent.keyDown(handles()[0]!, { key: "x" });
    expect(onMove).not.toHaveBeenCalled();
  });

  it("shows a boundary where it is being dragged", () => {
    draw("metric", vi.fn(), { layer: 0, at: 0.025 });
    expect(handles()[0]!.getAttribute("aria-valuetext")).toBe("25 mm");
    expect(handles()[1]!.getAttribute("aria-valuetext")).toBe("35 mm");
  });
});
