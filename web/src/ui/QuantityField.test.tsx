import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import * as client from "../api/client";
import { shop } from "../test-shop";
import { QuantityField, type Reading } from "./QuantityField";

const understood = {
  kind: "mass",
  value: 0.1,
  as_typed: "100 g",
  words: "100 gram",
  notes: ["by weight"],
  spread: null,
};
let answer: () => Promise<unknown>;

beforeEach(() => {
  answer = async () => understood;
  vi.spyOn(client, "call").mockImplementation((() => answer()) as never);
});
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

function open(more: Partial<Parameters<typeof QuantityField>[0]> = {}) {
  const onCommit = vi.fn<(reading: Reading | null) => Promise<void>>(async () => undefined);
  const view = render(<QuantityField label="cup" kind="mass" onCommit={onCommit} {...more} />, {
    wrapper: shop(),
  });
  const field = screen.getByLabelText<HTMLInputElement>(/^cup/);
  const type = (text: string) => {
    fireEvent.change(field, { target: { value: text } });
    fireEvent.blur(field);
  };
  return { onCommit, field, type, view };
}
const refusal = (choices: string[]) =>
  new client.Refused({
    title: "",
    status: 422,
    detail: "Which ounce?",
    problems: [
      { pointer: "/text", message: "Which ounce?", value: "4 oz", way_out: "Say it.", code: "oz", choices },
    ],
  } as never);

describe("a field for a quantity", () => {
  it("gives on what was understood and says it in words", async () => {
    const { onCommit, type } = open();
    type("100 g");
    await waitFor(() => expect(onCommit).toHaveBeenCalledTimes(1));
    expect(onCommit.mock.lastCall![0]).toEqual({
      value: 0.1,
      as_typed: "100 g",
      origin: "measured",
      spread: null,
    });
    await screen.findByText("100 gram, by weight");
  });

  it("keeps what was typed where it is not understood, and offers what could be meant", async () => {
    answer = async () => Promise.reject(refusal(["oz (weight)", "fl oz"]));
    const { onCommit, field, type } = open();
    type("4 oz");
    await screen.findByText(/Which ounce/);
    expect(field.value).toBe("4 oz");
    expect(field.getAttribute("aria-invalid")).toBe("true");
    expect(screen.getByRole("button", { name: "fl oz" })).toBeTruthy();
    expect(onCommit).not.toHaveBeenCalled();
  });

  it("says why the owner of the value refuses it", async () => {
    const { type } = open({ onCommit: async () => Promise.reject(new Error("Deeper than the form.")) });
    type("100 g");
    await screen.findByText(/Deeper than the form/);
  });

  it("is emptied where that is allowed", async () => {
    const reading: Reading = { value: 0.1, as_typed: "100 g", origin: "measured" };
    const { onCommit, type } = open({ optional: true, reading });
    type("");
    await waitFor(() => expect(onCommit).toHaveBeenCalledWith(null));
  });

  it("goes back to what it was by Escape, and asks nothing where nothing changed", () => {
    const { onCommit, field } = open({ reading: { value: 0.1, as_typed: "100 g" } });
    fireEvent.change(field, { target: { value: "7" } });
    fireEvent.keyDown(field, { key: "Escape" });
    expect(field.value).toBe("100 g");
    fireEvent.blur(field);
    expect(onCommit).not.toHaveBeenCalled();
    expect(client.call).not.toHaveBeenCalled();
  });

  it("shows a value that changed elsewhere, but not over what is being typed", () => {
    const reading = (as_typed: string): Reading => ({ value: 1, as_typed });
    const { field, view } = open({ reading: reading("100 g") });
    view.rerender(
      <QuantityField label="cup" kind="mass" onCommit={async () => undefined} reading={reading("200 g")} />,
    );
    expect(field.value).toBe("200 g");
    fireEvent.change(field, { target: { value: "25" } });
    view.rerender(
      <QuantityField label="cup" kind="mass" onCommit={async () => undefined} reading={reading("300 g")} />,
    );
    expect(field.value).toBe("25");
  });

  it("marks a typical value as one", () => {
    open({ reading: { value: 0.1, as_typed: "100 g", origin: "typical" } });
    expect(screen.getByText("typical")).toBeTruthy();
  });
});
