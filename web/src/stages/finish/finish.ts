/** Finish: what the document holds of it, and what is asked of the server. */
import { readFinish } from "../../api/operations.generated";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import type { Piece } from "../../api/queries";

export type Finish = Schemas["Finish"];
export type Gate = Schemas["GateView"];
export const EMPTY_FINISH: Finish = {};

export const SURFACES: [string, string][] = [
  ["not said", "not said"],
  ["next coat", "dull, for a next coat"],
  ["oil", "oil on the wood"],
  ["varnish", "wiping varnish"],
  ["satin", "satin"],
  ["polish", "polished"],
];
export const STARTS: [string, string][] = [
  "as poured",
  "drips and flash",
  "sawn",
  "planed or milled",
  "turned",
  "pits",
].map((one) => [one, one]);
export const MOULDS: [string, string][] = [
  "none",
  "silicone",
  "plastic",
  "board",
  "wood",
  "metal",
  "glass",
  "other",
].map((one) => [one, one === "none" ? "out of the mould" : one]);
export const INSIDE = [
  "dry plant",
  "wood",
  "cork",
  "paper or cloth",
  "acrylic",
  "metal",
  "stone",
  "glass",
  "electronics",
  "other",
] as const;

export const finishOf = (piece: Piece): Finish => piece.finish ?? EMPTY_FINISH;

export function useFinish(pieceId: number, revision: number) {
  return useQuery({
    queryKey: ["finish", pieceId, revision],
    queryFn: () => readFinish(pieceId),
    placeholderData: keepPreviousData,
    refetchInterval: 60_000,
  });
}
