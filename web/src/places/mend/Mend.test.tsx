/** What a person has said stays when the record of a run arrives behind it. */
import { act, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import * as operations from "../../api/operations.generated";
import { pageWidth, shop } from "../../test-shop";
import { Mend } from "./Mend";

const TROUBLE = {
  code: "dust",
  title: "Dust, hair, a fly",
  look: "Specks in the film",
  questions: [],
  facts: [{ code: "lint", words: "lint or hair" }],
};
const ANSWER = {
  shown: [{ fact: "open", says: "no cover in the record" }],
  ranked: [
    { cause: "bare", title: "Not covered", why: "", share: 0.5, evidence: [], back: "sand", next_time: "" },
  ],
  ways: [{ code: "sand", title: "Sand all", honest: "", steps: [], resin: "coat" }],
  now: [],
  rests_on: "0 answers and 1 fact",
  film_m: 0.0012,
};

const waiting = new Map<number, (answer: never) => void>();
const runsArrive = async (piece: number, id: number) => {
  await waitFor(() => expect(waiting.has(piece)).toBe(true));
  const runs = [{ id, begun_at: "2026-03-01T08:00:00Z", is_rehearsal: false }];
  await act(async () => waiting.get(piece)!({ runs } as never));
  await waitFor(() => expect(screen.getByLabelText<HTMLSelectElement>("its run").value).toBe(String(id)));
};
beforeEach(() => {
  pageWidth(800);
  vi.spyOn(operations, "readMendTable").mockResolvedValue({ troubles: [TROUBLE] } as never);
  vi.spyOn(operations, "diagnose").mockResolvedValue(ANSWER as never);
  vi.spyOn(operations, "listPieces").mockResolvedValue({
    pieces: [
      { id: 7, name: "Window tray" },
      { id: 8, name: "Door plaque" },
    ],
  } as never);
  waiting.clear();
  vi.spyOn(operations, "listRuns").mockImplementation(
    (query) => new Promise((resolve) => waiting.set(query!.piece_id!, resolve)),
  );
});
afterEach(() => vi.restoreAllMocks());

it("keeps what was said and measured when the runs of the piece come late, but not what was said of a record", async () => {
  render(<Mend />, { wrapper: shop() });
  fireEvent.click(await screen.findByText("Dust, hair, a fly"));
  await screen.findByText("Window tray");
  fireEvent.change(screen.getByLabelText("of which piece"), { target: { value: "7" } });
  fireEvent.click(screen.getByLabelText("lint or hair"));
  fireEvent.click(await screen.findByLabelText(/no cover in the record/));
  const area = screen.getByLabelText("whole surface to coat");
  fireEvent.change(area, { target: { value: "240 cm2" } });
  fireEvent.blur(area);
  expect(screen.getByLabelText<HTMLInputElement>(/no cover in the record/).checked).toBe(false);

  await runsArrive(7, 85);

  expect(screen.getByLabelText<HTMLInputElement>("whole surface to coat").value).toMatch(/240/);
  expect(screen.getByLabelText<HTMLInputElement>("lint or hair").checked).toBe(true);
  expect(screen.getByLabelText<HTMLInputElement>(/no cover in the record/).checked).toBe(true);
});

it("asks for the runs of the piece last chosen, and leaves the run of the one before", async () => {
  render(<Mend />, { wrapper: shop() });
  await screen.findByText("Door plaque");
  fireEvent.change(screen.getByLabelText("of which piece"), { target: { value: "7" } });
  await runsArrive(7, 85);
  fireEvent.change(screen.getByLabelText("of which piece"), { target: { value: "8" } });
  await runsArrive(8, 91);
});
