/** What a component needs round it in a test: a workshop, a cache, a page's width. */
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { MemoryRouter } from "react-router";
import { vi } from "vitest";
import type { Session } from "./api/queries";
import { SessionContext } from "./ui/session";

export function shop(units: "metric" | "us" = "metric", queries = new QueryClient()) {
  const session = {
    workshop: { name: "Yard", units, zone: "UTC", currency: "EUR" },
    now: "2026-03-03T12:00:00Z",
    role: "owner",
  } as unknown as Session;
  return function Shop({ children }: { children: ReactNode }) {
    return (
      <QueryClientProvider client={queries}>
        <SessionContext value={session}>
          <MemoryRouter>{children}</MemoryRouter>
        </SessionContext>
      </QueryClientProvider>
    );
  };
}

/** jsdom lays nothing out: every element is this wide. */
export function pageWidth(width: number): void {
  vi.stubGlobal(
    "ResizeObserver",
    class {
      observe() {}
      disconnect() {}
    },
  );
  vi.spyOn(HTMLElement.prototype, "clientWidth", "get").mockReturnValue(width);
}
