/** The workshop's settings can be opened from anywhere, at the field somebody asked for. */
import { createContext, use } from "react";

export type WorkshopField = "room" | "cup" | "hours" | null;
export const OpenWorkshopContext = createContext<(field: WorkshopField) => void>(() => undefined);
export const useOpenWorkshop = () => use(OpenWorkshopContext);
