import { createContext, useContext } from "react";
import type { Session } from "../api/queries";
import type { Units } from "../domain/format";

export const SessionContext = createContext<Session | null>(null);

export function useShop(): Session {
  const session = useContext(SessionContext);
  if (!session) throw new Error("used outside of the session");
  return session;
}

export function useUnits(): { units: Units; currency: string; zone: string } {
  const { workshop } = useShop();
  return {
    units: workshop.units ?? "metric",
    currency: workshop.currency ?? "EUR",
    zone: workshop.zone ?? "UTC",
  };
}
