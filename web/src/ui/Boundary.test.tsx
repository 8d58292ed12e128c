import { act } from "react";
import { createRoot, type Root } from "react-dom/client";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Boundary } from "./Boundary";

let root: Root;
let box: HTMLElement;

function Breaks({ how }: { how: Error | null }) {
  if (how) throw how;
  return (
    <label>
      width <input />
    </label>
  );
}

const draw = (how: Error | null, where = "/a") =>
  act(() =>
    root.render(
      <Boundary what="The page" where={where}>
        <Breaks how={how} />
      </Boundary>,
    ),
  );

beforeEach(() => {
  vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
  vi.spyOn(console, "error").mockImplementation(() => undefined);
  box = document.createElement("div");
  document.body.append(box);
  root = createRoot(box);
});
afterEach(() => {
  act(() => root.unmount());
  box.remove();
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

describe("a place that breaks", () => {
  it("says so, shows what was typed and goes on", () => {
    draw(null);
    const field = box.querySelector("input")!;
    act(() => {
      Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")!.set!.call(field, "412 mm");
      field.dispatchEvent(new Event("input", { bubbles: true }));
    });
    draw(new Error("no such figure"));
    expect(box.textContent).toContain("The page could not be shown");
    expect(box.textContent).toContain("width412 mm");
    draw(null, "/b");
    expect(box.querySelector("input")).not.toBeNull();
  });

  it("asks for a new page where a part of the program is gone after an update", () => {
    draw(new Error("Failed to fetch dynamically imported module: /assets/Mix-1.js"));
    expect(box.textContent).toContain("Cavatum was updated");
    expect(box.textContent).not.toContain("Try again");
  });
});
