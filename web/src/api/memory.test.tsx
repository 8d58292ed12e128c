import { render, renderHook, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { nextSeq, thisDevice } from "../stages/pour/useRun";
import { forget, forgetAll, FULL, remember, remembered, useFullStore } from "./memory";

const full = () =>
  vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
    throw new DOMException("no room", "QuotaExceededError");
  });

afterEach(() => {
  vi.restoreAllMocks();
  forgetAll();
  sessionStorage.clear();
  localStorage.clear();
});

function Says() {
  return useFullStore() ? <p role="alert">{FULL}</p> : null;
}

describe("a full browser store", () => {
  it("drops no tap: what is counted goes on in the open page, and it is said", async () => {
    render(<Says />);
    full();
    const numbers = [1, 2, 3].map(() => nextSeq(7));
    expect(numbers).toEqual([1, 2, 3]);
    expect(thisDevice()).toBe(thisDevice());
    await waitFor(() => expect(screen.getByRole("alert").textContent).toContain("storage is full"));
  });

  it("keeps the newest word of each thing, of the page before that of the store", () => {
    remember("device", "who", "Wren");
    full();
    expect(remember("device", "who", "Moss")).toBe(false);
    expect(remembered("device", "who")).toBe("Moss");
    vi.restoreAllMocks();
    expect(remember("device", "who", "Elm")).toBe(true);
    expect([remembered("device", "who"), localStorage.getItem("who")]).toEqual(["Elm", "Elm"]);
  });

  it("is said no more once nothing is kept in the page alone", () => {
    const { result } = renderHook(() => useFullStore());
    full();
    remember("session", "draft", "x");
    forget("session", "draft");
    expect(result.current).toBe(false);
  });

  it("that is forbidden altogether is as one that is full", () => {
    vi.spyOn(window, "sessionStorage", "get").mockImplementation(() => {
      throw new DOMException("denied", "SecurityError");
    });
    expect(remembered("session", "a")).toBeNull();
    expect(remember("session", "a", "1")).toBe(false);
    expect(remembered("session", "a")).toBe("1");
  });
});

it("no screen writes to the device's stores by itself", () => {
  const sources = import.meta.glob("../**/*.{ts,tsx}", { query: "?raw", import: "default", eager: true });
  const own = Object.entries(sources as Record<string, string>).filter(
    ([name, text]) =>
      !/\.test\.|test-|outbox|memory\.ts/.test(name) &&
      /(local|session)Storage\.(set|get|remove)Item/.test(text),
  );
  expect(own.map(([name]) => name)).toEqual([]);
});
