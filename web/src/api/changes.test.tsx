import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, fireEvent, render, renderHook, screen, waitFor } from "@testing-library/react";
import { useState, type ReactNode } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { QuantityField, type Reading } from "../ui/QuantityField";
import * as session from "../ui/session";
import { useChangeSystem, useChangeWorkshop } from "./changes";
import * as client from "./client";
import { keys, useShelf } from "./queries";

afterEach(() => vi.restoreAllMocks());

const inside = (queries: QueryClient) =>
  function Inside({ children }: { children: ReactNode }) {
    return <QueryClientProvider client={queries}>{children}</QueryClientProvider>;
  };
const after = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

describe("changes that follow each other quickly", () => {
  it("to a sheet are made one on the other, though the server is slow", async () => {
    let stored = {
      id: "s",
      name: "Slow",
      note: "",
      working_time: { time_s: 1, mass_kg: 1 },
    } as never as Record<string, unknown>;
    vi.spyOn(client, "call").mockImplementation((async (
      method: string,
      _: string,
      sent?: { body: typeof stored },
    ) => {
      await after(20);
      if (method === "PUT") stored = sent!.body;
      return { sheets: [{ system: stored }] };
    }) as never);
    const queries = new QueryClient();
    const wrapper = inside(queries);
    const shelf = renderHook(() => useShelf(), { wrapper });
    await waitFor(() => expect(shelf.result.current.data).toBeDefined());
    const seen = shelf.result.current.data![0]!.system;
    const { result } = renderHook(() => useChangeSystem(seen), { wrapper });
    await act(async () => {
      // Both are made on what is on the screen now, as two fields are that are left one after the other.
      const first = result.current({ working_time: { ...seen.working_time, time_s: 7 } as never });
      const second = result.current({ working_time: { ...seen.working_time, mass_kg: 9 } as never });
      const third = result.current({ name: "Slower" });
      await Promise.all([first, second, third]);
    });
    expect(stored).toMatchObject({ name: "Slower", working_time: { time_s: 7, mass_kg: 9 } });
  });

  it("go on after one that was refused", async () => {
    const sent: unknown[] = [];
    vi.spyOn(client, "call").mockImplementation((async (
      _: string,
      __: string,
      told?: { body: { name?: string } },
    ) => {
      if (told?.body.name === "")
        throw new client.Refused({ title: "", status: 422, detail: "A name, please." } as never);
      sent.push(told?.body);
    }) as never);
    const queries = new QueryClient();
    const workshop = { name: "Yard", units: "metric" } as never;
    queries.setQueryData(keys.session, { workshop });
    const { result } = renderHook(() => useChangeWorkshop(workshop), { wrapper: inside(queries) });
    await act(async () => {
      const refused = result.current({ name: "" });
      const kept = result.current({ units: "us" });
      await expect(refused).rejects.toThrow("A name, please.");
      await kept;
    });
    expect(sent).toEqual([{ name: "Yard", units: "us" }]);
  });
});

describe("two fields of one form", () => {
  function Both() {
    const [weights, setWeights] = useState<(Reading | null)[]>([null, null]);
    return (
      <>
        {[0, 1].map((at) => (
          <QuantityField
            key={at}
            label={`cup ${at + 1}`}
            kind="mass"
            reading={weights[at]}
            onCommit={(reading) => setWeights(weights.map((one, where) => (where === at ? reading : one)))}
          />
        ))}
        <output>{weights.map((one) => one?.as_typed ?? "none").join(", ")}</output>
      </>
    );
  }

  it("both stand when they are read at the same time", async () => {
    vi.spyOn(session, "useUnits").mockReturnValue({ units: "metric" } as never);
    const answers: Record<string, () => void> = {};
    vi.spyOn(client, "call").mockImplementation(((
      _: string,
      __: string,
      { body }: { body: { text: string } },
    ) => {
      const read = { kind: "mass", value: parseFloat(body.text) / 1000, words: "", notes: [] };
      return new Promise((resolve) => {
        answers[body.text] = () => resolve({ ...read, as_typed: body.text });
      });
    }) as never);
    render(<Both />, { wrapper: inside(new QueryClient()) });
    for (const [label, text] of [
      ["cup 1", "100 g"],
      ["cup 2", "50 g"],
    ] as const) {
      fireEvent.change(screen.getByLabelText(label), { target: { value: text } });
      fireEvent.blur(screen.getByLabelText(label));
    }
    // The field that was left first is answered last.
    await act(async () => answers["50 g"]!());
    await waitFor(() => expect(screen.getByRole("status").textContent).toBe("none, 50 g"));
    await act(async () => answers["100 g"]!());
    await waitFor(() => expect(screen.getByRole("status").textContent).toBe("100 g, 50 g"));
  });
});

describe("two browsers at the same settings", () => {
  const theirs = { name: "Shed", room_c: { value: 19, as_typed: "19 °C" } };
  const mine = { value: 21, as_typed: "21 °C" };

  async function changed(chosen: boolean) {
    const sent: { on: unknown; body: unknown }[] = [];
    const head = { workshop: { name: "Yard", room_c: { value: 20, as_typed: "20 °C" } }, revision: 4 };
    const queries = new QueryClient();
    queries.setQueryData(keys.session, head);
    const asked = vi.spyOn(window, "confirm").mockReturnValue(chosen);
    vi.spyOn(client, "call").mockImplementation((async (
      _: string,
      __: string,
      told: { body: unknown; query: { made_on: number } },
    ) => {
      sent.push({ on: told.query.made_on, body: told.body });
      if (sent.length > 1) return {};
      queries.setQueryData(keys.session, { workshop: theirs, revision: 5 });
      const clashes = [{ pointer: "/room_c", base: null, theirs: theirs.room_c, yours: mine }];
      throw new client.Refused({ title: "", status: 409, detail: "", clashes } as never);
    }) as never);
    const { result } = renderHook(() => useChangeWorkshop(head.workshop as never), {
      wrapper: inside(queries),
    });
    await act(() => result.current({ room_c: mine } as never));
    return { sent, asked: asked.mock.calls.map(([words]) => words) };
  }

  it("are asked which value holds, and yours goes on top of theirs", async () => {
    const { sent, asked } = await changed(true);
    expect(asked[0]).toContain("room: 19 °C there, 21 °C here");
    expect(sent).toEqual([
      { on: 4, body: { name: "Yard", room_c: mine } },
      { on: 5, body: { name: "Shed", room_c: mine } },
    ]);
  });

  it("keep theirs where that is chosen", async () => {
    const { sent } = await changed(false);
    expect(sent).toHaveLength(1);
  });
});
