/** A shape drawn large, its readings typed on its dimension lines; what has no place on the drawing, and all of it on a
 *  phone, stands under it. */
import { useState, type ReactNode } from "react";
import type { ShapeField } from "../../domain/shapes";
import { LARGE } from "../../drawing/VoidSketch";

interface Props {
  places: Record<string, [x: number, y: number]>;
  fields: ShapeField[];
  drawing: (wrong: ReadonlySet<string>) => ReactNode;
  field: (field: ShapeField, onWrong: (isWrong: boolean) => void) => ReactNode;
  /** what stands under the drawing beside the fields without a place */
  children?: ReactNode;
}

const [X, Y, WIDE, TALL] = LARGE;

export function OnTheDrawing({ places, fields, drawing, field, children }: Props) {
  const [wrong, setWrong] = useState<ReadonlySet<string>>(new Set());
  const tell = (key: string) => (isWrong: boolean) =>
    setWrong((now) => {
      if (now.has(key) === isWrong) return now;
      const next = new Set(now);
      if (isWrong) next.add(key);
      else next.delete(key);
      return next;
    });
  const placed = fields.filter((one) => places[one.key]);
  const rest = fields.filter((one) => !places[one.key]);
  return (
    <div className="@container">
      <div className="relative w-full max-w-[860px] sm:aspect-[2/1] max-sm:grid max-sm:grid-cols-2 max-sm:gap-2.5">
        <div className="sm:absolute sm:inset-0 max-sm:col-span-2 max-sm:h-40">{drawing(wrong)}</div>
        {placed.map((one) => {
          const [x, y] = places[one.key]!;
          return (
            <div
              key={one.key}
              className="drawn-field sm:absolute sm:w-[106px] @xl:w-[136px] sm:-translate-x-1/2 sm:-mt-7 sm:z-1"
              style={
                {
                  "--x": `${(100 * (x - X)) / WIDE}%`,
                  "--y": `${(100 * (y - Y)) / TALL}%`,
                } as React.CSSProperties
              }
            >
              {field(one, tell(one.key))}
            </div>
          );
        })}
      </div>
      {rest.length || children ? (
        <div className="grid gap-2.5 grid-cols-[repeat(auto-fill,minmax(150px,1fr))] mt-2.5">
          {rest.map((one) => (
            <div key={one.key}>{field(one, tell(one.key))}</div>
          ))}
          {children}
        </div>
      ) : null}
    </div>
  );
}
