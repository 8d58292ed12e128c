import { remember, remembered } from "../api/memory";
export type Theme = "paper" | "night";

export function storedTheme(): Theme {
  const stored = remembered("device", "cavatum-theme");
  if (stored === "paper" || stored === "night") return stored;
  return window.matchMedia("(prefers-color-scheme: dark)").matches ? "night" : "paper";
}

export function applyTheme(theme: Theme): void {
  document.documentElement.dataset.theme = theme;
}

export function keepTheme(theme: Theme): void {
  remember("device", "cavatum-theme", theme);
  applyTheme(theme);
}
