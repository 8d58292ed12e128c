import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import * as client from "../api/client";
import { shop } from "../test-shop";
import { QuantityField, TextField, type Reading } from "./QuantityField";

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

describe("a field that another device changes while it is typed in", () => {
  const asked = () => vi.spyOn(window, "confirm");

  function typing(label: string) {
    const field = screen.getByLabelText<HTMLInputElement>(label);
    fireEvent.change(field, { target: { value: "mine" } });
    return field;
  }

  it("keeps what is typed and asks which holds", async () => {
    const question = asked().mockReturnValueOnce(false).mockReturnValueOnce(true);
    const onCommit = vi.fn<(value: string) => Promise<void>>(async () => undefined);
    const view = render(<TextField label="name" value="old" onCommit={onCommit} />);
    const field = typing("name");
    view.rerender(<TextField label="name" value="theirs" onCommit={onCommit} />);
    expect(field.value).toBe("mine");
    fireEvent.blur(field);
    expect(question.mock.lastCall![0]).toContain("“theirs” there, “mine” here");
    expect(field.value).toBe("theirs");
    expect(onCommit).not.toHaveBeenCalled();
    typing("name");
    view.rerender(<TextField label="name" value="theirs again" onCommit={onCommit} />);
    fireEvent.blur(field);
    await waitFor(() => expect(onCommit).toHaveBeenCalledWith("mine"));
    view.rerender(<TextField label="name" value="mine" onCommit={onCommit} />);
    view.rerender(<TextField label="name" value="theirs at last" onCommit={onCommit} />);
    expect(field.value).toBe("theirs at last");
    expect(question).toHaveBeenCalledTimes(2);
  });

  it("asks nothing where nobody typed, and nothing after a refusal that is typed anew", async () => {
    const question = asked();
    const onCommit = vi.fn<(value: string) => Promise<void>>(async () => {
      throw new Error("no such name");
    });
    const view = render(<TextField label="name" value="old" onCommit={onCommit} />);
    view.rerender(<TextField label="name" value="theirs" onCommit={onCommit} />);
    const field = typing("name");
    fireEvent.blur(field);
    await screen.findByText("no such name");
    fireEvent.blur(field);
    await waitFor(() => expect(onCommit).toHaveBeenCalledTimes(2));
    expect(question).not.toHaveBeenCalled();
  });

  it("does so for a quantity too", async () => {
    const question = asked().mockReturnValue(false);
    const reading = (as_typed: string): Reading => ({
      value: parseFloat(as_typed),
      as_typed,
      origin: "measured",
    });
    const { onCommit, field, view } = open({ reading: reading("80 g") });
    fireEvent.change(field, { target: { value: "100 g" } });
    view.rerender(<QuantityField label="cup" kind="mass" onCommit={onCommit} reading={reading("90 g")} />);
    expect(field.value).toBe("100 g");
    fireEvent.blur(field);
    expect(question.mock.lastCall![0]).toContain("“90 g” there, “100 g” here");
    expect(field.value).toBe("90 g");
    expect(onCommit).not.toHaveBeenCalled();
  });

  it("never asks about what it sent itself, however late and in other words that comes back", async () => {
    const question = asked();
    const reading = (value: number, as_typed: string): Reading => ({ value, as_typed, origin: "measured" });
    const { onCommit, field, view, type } = open({ reading: reading(0.08, "80 g") });
    type("100 g");
    await waitFor(() => expect(onCommit).toHaveBeenCalledTimes(1));
    fireEvent.change(field, { target: { value: "3.6 oz" } }); // before the first has come back
    fireEvent.blur(field);
    await waitFor(() => expect(onCommit).toHaveBeenCalledTimes(2));
    fireEvent.change(field, { target: { value: "110 g" } });
    view.rerender(
      <QuantityField
        label="cup"
        kind="mass"
        onCommit={onCommit}
        reading={reading(0.10000000001, "0.1 kg")}
      />,
    );
    fireEvent.blur(field);
    await waitFor(() => expect(onCommit).toHaveBeenCalledTimes(3));
    expect(question).not.toHaveBeenCalled();
  });

  it("leaves alone what is typed while the server still reads the last", async () => {
    let read: (value: unknown) => void = () => undefined;
    answer = () => new Promise((resolve) => (read = resolve));
    const { onCommit, field, type } = open();
    type("100 g");
    fireEvent.change(field, { target: { value: "12" } });
    read(understood);
    await waitFor(() => expect(onCommit).toHaveBeenCalledTimes(1));
    expect(field.value).toBe("12");
  });

  it("never asks about its own text either", async () => {
    const question = asked();
    const onCommit = vi.fn<(value: string) => Promise<void>>(async () => undefined);
    const view = render(<TextField label="name" value="old" onCommit={onCommit} />);
    const field = screen.getByLabelText<HTMLInputElement>("name");
    for (const text of ["first", "second"]) {
      fireEvent.change(field, { target: { value: text } });
      fireEvent.blur(field); // the first has not come back yet
    }
    fireEvent.change(field, { target: { value: "third" } });
    view.rerender(<TextField label="name" value="first" onCommit={onCommit} />);
    fireEvent.blur(field);
    await waitFor(() =>
      expect(onCommit.mock.calls.map(([text]) => text)).toEqual(["first", "second", "third"]),
    );
    expect(question).not.toHaveBeenCalled();
  });
});
