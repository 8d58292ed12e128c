/** The readings of one shape of any kind, saved as they are typed: fields, choices, rows of stations, both
 *  shapes of a nested one. */
import { useState } from "react";
import type { Void } from "../../api/queries";
import {
  at,
  fieldsOf,
  SHAPES,
  SOLIDS,
  withAt,
  type Shape,
  type ShapeChoice,
  type SolidKind,
} from "../../domain/shapes";
import { VoidSketch } from "../../drawing/VoidSketch";
import { QuantityField, type Reading } from "../../ui/QuantityField";
import { Check } from "../../ui/Check";
import { OnTheDrawing } from "./OnTheDrawing";
import { VOID_PLACES } from "./places";

interface Props {
  shape: Shape;
  index: number;
  change: (what: string, fn: (shape: Shape) => Shape) => Promise<void>;
}

const solidOf = (shape: Shape, side: "outer" | "inner") =>
  (at(shape, `${side}.kind`) as SolidKind | undefined) ?? "cylinder";

export function rowsOf(shape: Shape): [number, number][] | undefined {
  if (shape.kind === "river") return shape.stations.map((one) => [one.at_m.value, one.width_m.value]);
  if (shape.kind === "profile") return shape.rows.map((one) => [one.height_m.value, one.diameter_m.value]);
  return undefined;
}

/** Drawn large with its readings on its lines. */
export function ShapeFields({ shape, index, change }: Props) {
  const kind = shape.kind!;
  const [outer, inner] = [solidOf(shape, "outer"), solidOf(shape, "inner")];
  return (
    <>
      <OnTheDrawing
        places={VOID_PLACES[kind] ?? {}}
        fields={fieldsOf(kind, outer, inner)}
        drawing={(wrong) => (
          <VoidSketch
            large
            wrong={wrong}
            kind={kind}
            rows={rowsOf(shape)}
            form={shape.kind === "crack" ? shape.form : undefined}
            outer={outer}
            inner={inner}
            points={shape.kind === "outline" ? shape.points_m : undefined}
            holes={shape.kind === "outline" ? (shape.holes_m as [number, number][][]) : undefined}
          />
        )}
        field={(field, onWrong) => (
          <QuantityField
            key={field.key}
            label={field.label}
            kind={field.kind}
            optional={field.optional}
            help={field.help}
            onWrong={onWrong}
            reading={at(shape, field.key) as Reading | null}
            pointer={`/voids/${index}/shape/${field.key.replace(".", "/")}`}
            onCommit={(reading) => change(field.label, (one) => withAt(one, field.key, reading))}
          />
        )}
      >
        {SHAPES[kind].choices?.map((choice) => (
          <ChoiceField
            key={choice.key}
            choice={choice}
            value={String(at(shape, choice.key))}
            onChoose={(value) => change(choice.label, (one) => withAt(one, choice.key, value))}
          />
        ))}
      </OnTheDrawing>
      {kind === "nested" ? (
        <Check
          className="items-center col-span-2"
          checked={(shape as { held_down?: boolean }).held_down ?? false}
          onChange={(on) => change("held down", (one) => withAt(one, "held_down", on))}
        >
          the inner one is held down
        </Check>
      ) : null}
      {shape.kind === "river" ? (
        <RowsTable
          rows={shape.stations}
          columns={[
            ["at_m", "place"],
            ["width_m", "width"],
            ["bottom_width_m", "at the bottom"],
          ]}
          what="station"
          index={index}
          list="stations"
          change={change}
        />
      ) : null}
      {shape.kind === "profile" ? (
        <RowsTable
          rows={shape.rows}
          columns={[
            ["height_m", "height"],
            ["diameter_m", "diameter"],
          ]}
          what="reading"
          index={index}
          list="rows"
          change={change}
        />
      ) : null}
    </>
  );
}

export function ChoiceField({
  choice,
  value,
  onChoose,
}: {
  choice: ShapeChoice;
  value: string;
  onChoose: (value: string) => void;
}) {
  const id = `choice-${choice.key}`;
  return (
    <div>
      <label className="label" htmlFor={id}>
        {choice.label}
      </label>
      <select id={id} className="box" value={value} onChange={(event) => onChoose(event.target.value)}>
        {choice.options.map(([option, word]) => (
          <option key={option} value={option}>
            {word}
          </option>
        ))}
      </select>
    </div>
  );
}

export function SolidChoice({
  side,
  value,
  onChoose,
}: {
  side: "outer" | "inner";
  value: SolidKind;
  onChoose: (value: SolidKind) => void;
}) {
  return (
    <ChoiceField
      choice={{ key: side, label: `${side} shape`, options: SOLIDS.map((kind) => [kind, SHAPES[kind].name]) }}
      value={value}
      onChoose={(kind) => onChoose(kind as SolidKind)}
    />
  );
}

interface TableProps {
  rows: object[];
  columns: [key: string, label: string][];
  what: string;
  index: number;
  list: "stations" | "rows";
  change: Props["change"];
}

/** One line a station; every cell takes a spread ("118 ± 1 mm"). */
function RowsTable({ rows, columns: all, what, index, list, change }: TableProps) {
  const used = rows.some((row) => (row as Record<string, Reading | null>).bottom_width_m);
  const [sloped, setSloped] = useState(used);
  const columns = all.filter(([key]) => key !== "bottom_width_m" || sloped || used);
  const set = (fn: (rows: object[]) => object[]) => (shape: Shape) => ({
    ...shape,
    [list]: fn((shape as unknown as Record<string, object[]>)[list]!),
  });
  const add = () => {
    const [key, width] = [columns[0]![0], columns[1]![0]];
    return change(
      `one more ${what}`,
      set((now) => {
        const value = (row: object, name: string) => (row as Record<string, Reading>)[name];
        const [last, before] = [now.at(-1), now.at(-2)];
        if (!last || !before) return now; // the distance to the next one is told by the last two
        const next = 2 * value(last, key)!.value - value(before, key)!.value;
        return [...now, { [key]: { value: next, as_typed: "" }, [width]: { ...value(last, width) } }];
      }),
    );
  };
  return (
    <div className="col-span-2">
      <table className="plain tight">
        <thead>
          <tr>
            <th scope="col" className="w-6">
              #
            </th>
            {columns.map(([key, label]) => (
              <th key={key} scope="col">
                {label}
              </th>
            ))}
            <th>
              <span className="sr-only">take out</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row, at_) => (
            <tr key={at_}>
              <td className="pt-2.5!">{at_ + 1}</td>
              {columns.map(([key, label]) => (
                <td key={key}>
                  <QuantityField
                    hideLabel
                    label={`${label} at ${what} ${at_ + 1}`}
                    kind="length"
                    optional={key === "bottom_width_m"}
                    reading={(row as Record<string, Reading | null>)[key]}
                    pointer={`/voids/${index}/shape/${list}/${at_}/${key}`}
                    onCommit={(reading) =>
                      change(
                        `${label} at ${what} ${at_ + 1}`,
                        set((now) => now.map((one, i) => (i === at_ ? { ...one, [key]: reading } : one))),
                      )
                    }
                  />
                </td>
              ))}
              <td>
                {rows.length > 2 ? (
                  <button
                    className="quiet text-[12px] min-h-8 min-w-6"
                    aria-label={`Take out ${what} ${at_ + 1}`}
                    onClick={() =>
                      void change(
                        `took out a ${what}`,
                        set((now) => now.filter((_, i) => i !== at_)),
                      )
                    }
                  >
                    ×
                  </button>
                ) : null}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="flex gap-4">
        <button className="quiet" onClick={() => void add()}>
          One more {what}
        </button>
        {columns.length < all.length ? (
          <button className="quiet" onClick={() => setSloped(true)}>
            The edges slope
          </button>
        ) : null}
      </p>
    </div>
  );
}

export type VoidChange = (what: string, fn: (hollow: Void) => Void) => Promise<void>;
