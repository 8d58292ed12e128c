/** Asks the server what a spoken quantity means; a bare number is read in the workshop's unit. */
import { understandQuantity } from "../api/operations.generated";
import type { Schemas } from "../api/client";
import { defaultUnit, type Units } from "../domain/format";
import type { Reading } from "./QuantityField";

export type Understood = Schemas["Understood"];

/** asks: a bare number is asked about, where the unit somebody means is not the workshop's. */
export function readQuantity(text: string, kind: string, units: Units, asks = false): Promise<Understood> {
  return understandQuantity({ text, kind, default_unit: asks ? null : defaultUnit(kind, units) });
}

export function readingOf(found: Understood, origin: Reading["origin"] = "measured"): Reading {
  return { value: found.value, as_typed: found.as_typed, origin, spread: found.spread ?? null };
}

/** Several fields of a form at once, so that a form sent right after typing misses none. Empty ones are
 *  left out. */
export async function readQuantities(
  fields: { key: string; kind: string; label?: string }[],
  texts: Record<string, string>,
  units: Units,
): Promise<Record<string, Reading>> {
  const typed = fields.filter((field) => texts[field.key]?.trim());
  const found = await Promise.all(
    typed.map((field) =>
      readQuantity(texts[field.key]!, field.kind, units).catch(naming(field.label ?? field.key)),
    ),
  );
  return Object.fromEntries(typed.map((field, index) => [field.key, readingOf(found[index]!)]));
}

/** Of several fields that are read together, which one is refused. */
function naming(label: string | undefined) {
  return (error: unknown): never => {
    if (label && error instanceof Error && !error.message.startsWith(label))
      error.message = `${label[0]!.toUpperCase()}${label.slice(1)}: ${error.message}`;
    throw error;
  };
}
