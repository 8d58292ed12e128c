/** Coats of a stack: which side of one is typed (film, amount or rule), and the stack changed without running totals. */
import { freshId } from "./shapes";
import type { Coat } from "./surfaces";

export type Lay = Coat["lays"][number];
export type Side = "film" | "amount" | "rule";
export const SIDES: Side[] = ["film", "amount", "rule"];

export const ROLES: [NonNullable<Lay["role"]>, string][] = [
  ["not said", "a coat"],
  ["seal", "seal"],
  ["nicks", "fills nicks"],
  ["flood", "flood"],
];
export const JOINS: [NonNullable<Lay["join"]>, string][] = [
  ["as the workshop does", "as the workshop does"],
  ["in the window", "fresh, in its window"],
  ["sanded", "cured and sanded"],
];

export function sideOf(lay: Lay): Side {
  return lay.amount ? "amount" : lay.rule ? "rule" : "film";
}

/** As it was typed; nothing where that side is worked out from another. */
export function typedOf(lay: Lay, side: Side): string {
  if (sideOf(lay) !== side) return "";
  return (
    (side === "film"
      ? lay.film_m?.as_typed
      : side === "amount"
        ? lay.amount?.as_typed
        : lay.rule?.as_typed) ?? ""
  );
}

/** The coat typed by this side alone. The server reads the text of an amount or a rule. */
export function withSide(lay: Lay, side: Side, typed: string | NonNullable<Lay["film_m"]>): Lay {
  const bare = { ...lay, film_m: null, amount: null, rule: null };
  if (typeof typed !== "string") return { ...bare, film_m: typed };
  return { ...bare, [side === "film" ? "film_m" : side]: { as_typed: typed } } as unknown as Lay;
}

/** Another coat: like the last one, in its film where nothing else was said. */
export function withCoat(coat: Coat, like: Lay = coat.lays.at(-1)!, at = coat.lays.length): Coat {
  const fresh = {
    ...like,
    id: freshId(
      `${coat.id.slice(0, 30)}-c`,
      coat.lays.map((one) => one.id),
    ),
    again: false,
  };
  return { ...coat, lays: [...coat.lays.slice(0, at), fresh, ...coat.lays.slice(at)] };
}

export function withLay(coat: Coat, id: string, fn: (lay: Lay) => Lay): Coat {
  return { ...coat, lays: coat.lays.map((one) => (one.id === id ? fn(one) : one)) };
}

export function without(coat: Coat, id: string): Coat {
  return { ...coat, lays: coat.lays.filter((one) => one.id !== id) };
}

/** One place down (the coat is laid sooner) or up. */
export function moved(coat: Coat, id: string, by: -1 | 1): Coat {
  const at = coat.lays.findIndex((one) => one.id === id);
  const to = at + by;
  if (to < 0 || to >= coat.lays.length) return coat;
  const lays = [...coat.lays];
  [lays[at], lays[to]] = [lays[to]!, lays[at]!];
  return { ...coat, lays };
}

/** Computed films are the plan's, not the document's. */
export const filmReading = (value: number): NonNullable<Lay["film_m"]> => ({
  value,
  as_typed: "",
  origin: "chosen",
});
