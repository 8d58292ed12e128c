import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import kept from "../../../tests/examples/plan-own-boundaries.json";
import type { Plan } from "../api/queries";
import { pageWidth, shop } from "../test-shop";
import { ClockRibbon, ClockTable } from "./ClockRibbon";

const clock = (kept.plan as unknown as Plan).clock!;
const [from, to] = [new Date(clock.from_at), new Date(clock.to_at)];
const HALF_HOUR = 1_800_000;

beforeEach(() => pageWidth(900));
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

describe("the clock", () => {
  it("has a time cursor that keys move by half an hour and keep within it", () => {
    const onCursor = vi.fn<(at: Date) => void>();
    const cursor = new Date(+from + 10 * HALF_HOUR);
    render(
      <ClockRibbon
        from={from}
        to={to}
        zone="UTC"
        away={[]}
        rows={clock.rows}
        cursor={cursor}
        onCursor={onCursor}
      />,
      { wrapper: shop() },
    );
    const slider = screen.getByRole("slider", { name: "Time cursor" });
    const at = () => +onCursor.mock.lastCall![0];
    fireEvent.keyDown(slider, { key: "ArrowRight" });
    expect(at()).toBe(+cursor + HALF_HOUR);
    fireEvent.keyDown(slider, { key: "ArrowLeft", shiftKey: true });
    expect(at()).toBe(+from);
    fireEvent.keyDown(slider, { key: "ArrowLeft", shiftKey: true });
    expect(at()).toBe(+from);
    fireEvent.keyDown(slider, { key: "End" });
    expect(at()).toBe(+to);
  });

  it("has no cursor to move where nobody asks for one", () => {
    render(<ClockRibbon from={from} to={to} zone="UTC" away={[]} rows={clock.rows} cursor={from} />, {
      wrapper: shop(),
    });
    expect(screen.queryByRole("slider")).toBeNull();
  });

  it("is a table too: every stretch of every row with its moments", () => {
    render(<ClockTable rows={clock.rows} zone="UTC" />, { wrapper: shop() });
    const stretches = clock.rows.flatMap((row) => row.segments);
    expect(screen.getAllByRole("row", { hidden: true })).toHaveLength(1 + stretches.length);
    expect(screen.getAllByText(stretches[0]!.label).length).toBeGreaterThan(0);
  });
});
