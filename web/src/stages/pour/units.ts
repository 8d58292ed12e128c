/** Weights and degrees at the bench in the units of the person and of the scale. */
import type { ScriptStep } from "../../domain/run";
import type { Units } from "../../domain/format";

const OUNCE_KG = 0.028349523125;

export const unitOf = (step: ScriptStep): "g" | "oz wt" => (step.ounces ? "oz wt" : "g");

/** To the places that the scale shows. */
export function bySteps(kg: number, step: ScriptStep): string {
  const per = step.ounces ? OUNCE_KG : 1e-3;
  const places = Math.min(Math.max(Math.ceil(-Math.log10((step.step_kg ?? 1e-4) / per) - 1e-9), 0), 3);
  return (kg / per).toFixed(places);
}

export const degreeUnit = (units: Units): "°C" | "°F" => (units === "us" ? "°F" : "°C");
export const toCelsius = (value: number, units: Units): number =>
  units === "us" ? (value - 32) / 1.8 : value;
