/** Shelf: resin systems, colourants and recipes, forms, stock and what to buy. */
import { Link } from "react-router";
import { ColourShelf } from "./shelf/ColourShelf";
import { FormShelf } from "./shelf/FormShelf";
import { StockShelf } from "./shelf/StockShelf";
import { ReadSheet } from "./shelf/reading/ReadSheet";
import { SystemShelf } from "./shelf/SystemShelf";

export type Part = "systems" | "read" | "colours" | "forms" | "stock";
const PARTS: [Part, string, string][] = [
  ["systems", "Resin systems", "/shelf"],
  ["read", "Read a sheet", "/shelf/read"],
  ["colours", "Colours", "/shelf/colours"],
  ["forms", "Moulds and forms", "/shelf/forms"],
  ["stock", "Stock and buying", "/shelf/stock"],
];

export function Shelf({ part = "systems" }: { part?: Part }) {
  return (
    <>
      <nav
        aria-label="Shelf"
        className="no-print flex flex-wrap gap-x-6 px-7 pt-3 max-sm:px-3 items-baseline"
      >
        <h1 className="text-[30px]">Shelf</h1>
        {PARTS.map(([one, words, to]) => (
          <Link
            key={one}
            to={to}
            aria-current={one === part ? "page" : undefined}
            className={`min-h-8 py-1 ${one === part ? "font-semibold border-b-2 border-spruce" : "text-slate"}`}
          >
            {words}
          </Link>
        ))}
      </nav>
      {part === "systems" ? (
        <SystemShelf />
      ) : part === "read" ? (
        <ReadSheet />
      ) : part === "colours" ? (
        <ColourShelf />
      ) : part === "forms" ? (
        <FormShelf />
      ) : (
        <StockShelf />
      )}
    </>
  );
}
