/** Dimension lines of the small drawings: each knows which reading it is of, says it, and turns rust where that reading
 *  is wrong. */
import { createContext, use } from "react";

export interface Dimensions {
  label: (key: string) => string;
  /** keys of the readings that were refused */
  wrong: ReadonlySet<string>;
}

export const DimensionsContext = createContext<Dimensions>({ label: () => "", wrong: new Set() });

export function useDimension(key: string) {
  const { label, wrong } = use(DimensionsContext);
  return { text: label(key), line: wrong.has(key) ? "stroke-rust stroke-2" : "stroke-slate" };
}

/** Without its spread: the drawing says which reading is which. */
export const plain = (said?: string) => said?.split(/±|\+\/?-/)[0]!.trim() ?? "";

interface AlongProps {
  of: string;
  x1: number;
  x2: number;
  y: number;
  up?: boolean;
}

export function Along({ of, x1, x2, y, up }: AlongProps) {
  const { text, line } = useDimension(of);
  return (
    <g>
      <path
        d={`M${x1} ${y - 4}v${up ? 8 : 4}M${x1} ${y - (up ? 0 : 3)}H${x2}M${x2} ${y - 4}v${up ? 8 : 4}`}
        className={line}
      />
      <text x={(x1 + x2) / 2} y={y - 6} textAnchor="middle" className="fill-ink">
        {text}
      </text>
    </g>
  );
}

export function Down({ of, x, y1, y2 }: { of: string; x: number; y1: number; y2: number }) {
  const { text, line } = useDimension(of);
  return (
    <g>
      <path d={`M${x - 4} ${y1}h8M${x} ${y1}V${y2}M${x - 4} ${y2}h8`} className={line} />
      <text x={x - 7} y={(y1 + y2) / 2 + 4} textAnchor="end">
        {text}
      </text>
    </g>
  );
}

/** A reading that has a word beside the body and no line of its own. */
export function Beside({ of, x, y, after = "" }: { of: string; x: number; y: number; after?: string }) {
  const { text } = useDimension(of);
  return text ? (
    <text x={x} y={y} className={after ? "fill-slate!" : ""}>
      {text}
      {after}
    </text>
  ) : null;
}
