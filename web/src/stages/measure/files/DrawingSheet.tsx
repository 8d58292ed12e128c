/** Chooses outlines of a drawing: layers, unit, which closed shapes are the voids. What is open or crosses
 *  is told. */
import { readOutlines } from "../../../api/operations.generated";
import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";
import type { Schemas } from "../../../api/client";
import { text } from "../../../domain/format";
import type { Shape } from "../../../domain/shapes";
import { QuantityField } from "../../../ui/QuantityField";
import { useUnits } from "../../../ui/session";
import { readQuantities } from "../../../ui/readQuantity";
import { complaint, type Kept } from "../../../ui/FileDrop";
import { SheetContent } from "../../../ui/SheetContent";

type Read = Schemas["OutlinesAnswer"];
type Unit = "mm" | "cm" | "m" | "in";
const UNITS: Unit[] = ["mm", "cm", "m", "in"];

interface Props {
  file: Kept;
  onClose: () => void;
  onShapes: (shapes: { name: string; shape: Shape }[]) => Promise<void>;
  /** what is asked beside the outline: how deep it is, or how thick what is coated */
  asks?: "depth" | "thickness";
}

export function DrawingSheet({ file, onClose, onShapes, asks = "depth" }: Props) {
  const { units } = useUnits();
  const [read, setRead] = useState<Read | null>(null);
  const [unit, setUnit] = useState<Unit | null>(null);
  const [layers, setLayers] = useState<string[] | null>(null);
  const [chosen, setChosen] = useState<number[]>([0]);
  const [typed, setTyped] = useState("");
  const [busy, setBusy] = useState(true);
  const [problem, setProblem] = useState("");
  useEffect(() => {
    let gone = false;
    setBusy(true);
    readOutlines(file.sha256, { unit, layers })
      .then((found) => {
        if (gone) return;
        setRead(found);
        setChosen(found.shapes.length ? [0] : []);
        setProblem("");
      })
      .catch((error) => {
        if (!gone) setProblem(complaint(error));
      })
      .finally(() => {
        if (!gone) setBusy(false);
      });
    return () => {
      gone = true;
    };
  }, [file.sha256, unit, layers]);
  const many = chosen.length > 1 ? `Add ${chosen.length} voids` : "Add it";
  const words = asks === "depth" ? many : "Add the coat";
  const all = read?.layers.map((one) => one.name) ?? [];
  const take = async () => {
    if (!read || !typed.trim())
      return setProblem(asks === "depth" ? "Type how deep it is." : "Type how thick it is at the edge.");
    if (!chosen.length) return setProblem("Choose at least one outline.");
    const said =
      `layer ${(layers ?? all).join(", ")}; ${[unit ? `read in ${unit}` : `in ${read.declared}, as the file says`, ...read.notes, ...leftOut(read)].join("; ")}`.slice(
        0,
        480,
      );
    try {
      const { depth } = await readQuantities([{ key: "depth", kind: "length" }], { depth: typed }, units);
      await onShapes(
        chosen.map((index) => {
          const found = read.shapes[index]!;
          const source = {
            format: file.kind as "svg" | "dxf",
            name: file.name,
            file: file.sha256,
            read_as: said,
          };
          return {
            name: found.layer === "0" || found.layer === "drawing" ? "Pocket" : found.layer,
            shape: {
              kind: "outline",
              points_m: found.points_m,
              holes_m: found.holes_m,
              depth_m: depth,
              source,
            } as unknown as Shape,
          };
        }),
      );
      onClose();
    } catch (error) {
      setProblem(complaint(error));
    }
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="over" />
        <SheetContent className="sheet wide">
          <Dialog.Title className="mb-1">Outlines of {file.name}</Dialog.Title>
          {read ? (
            <div className="grid grid-cols-[minmax(0,1fr)_240px] gap-5 max-sm:grid-cols-1">
              <Shapes
                read={read}
                chosen={chosen}
                busy={busy}
                onToggle={(index) =>
                  setChosen((now) =>
                    now.includes(index) ? now.filter((one) => one !== index) : [...now, index],
                  )
                }
              />
              <div className="grid gap-3 content-start">
                <fieldset>
                  <legend className="text-[13px] text-slate">
                    unit of the drawing
                    {read.declared ? `; the file says ${read.declared}` : "; the file does not say"}
                  </legend>
                  <div className="flex gap-3 flex-wrap">
                    {read.declared ? (
                      <Radio name="unit" word="as it says" on={unit === null} choose={() => setUnit(null)} />
                    ) : null}
                    {UNITS.map((one) => (
                      <Radio key={one} name="unit" word={one} on={unit === one} choose={() => setUnit(one)} />
                    ))}
                  </div>
                  <p className="text-[13px] mt-1">
                    {read.size_m
                      ? `The whole drawing is ${text(read.size_m[0]!, "length", units)} × ${text(read.size_m[1]!, "length", units)}.`
                      : `It is ${read.size[0]!.toPrecision(4)} × ${read.size[1]!.toPrecision(4)} of its own units. Say which they are.`}
                  </p>
                </fieldset>
                {all.length > 1 ? (
                  <fieldset>
                    <legend className="text-[13px] text-slate">layers</legend>
                    {read.layers.map((layer) => (
                      <label key={layer.name} className="flex gap-2 items-center text-[13px] min-h-7">
                        <input
                          type="checkbox"
                          checked={(layers ?? all).includes(layer.name)}
                          onChange={(event) =>
                            setLayers(
                              event.target.checked
                                ? [...(layers ?? all), layer.name]
                                : (layers ?? all).filter((one) => one !== layer.name),
                            )
                          }
                        />
                        {layer.name}
                      </label>
                    ))}
                  </fieldset>
                ) : null}
                <QuantityField label={asks} kind="length" onText={setTyped} onCommit={() => undefined} />
                {problem ? (
                  <p role="alert" className="text-rust font-medium text-[13px]">
                    {problem}
                  </p>
                ) : null}
                <div className="flex gap-4">
                  <button className="key" disabled={busy} onClick={() => void take()}>
                    {busy ? "Reading …" : words}
                  </button>
                  <Dialog.Close className="quiet">Never mind</Dialog.Close>
                </div>
              </div>
              {read.notes.length || leftOut(read).length ? (
                <section className="col-span-full">
                  <h2>How it was read</h2>
                  <ul className="list-disc pl-5 text-[13px]">
                    {[...read.notes, ...leftOut(read)].map((one) => (
                      <li key={one}>{one}</li>
                    ))}
                  </ul>
                </section>
              ) : null}
              {read.problems.length ? (
                <section className="col-span-full">
                  <h2>What is not closed or crosses</h2>
                  <ul className="list-disc pl-5 text-[13px]">
                    {read.problems.map((one) => (
                      <li key={one}>{one}</li>
                    ))}
                  </ul>
                </section>
              ) : null}
            </div>
          ) : (
            <p className="text-slate" role={problem ? "alert" : undefined}>
              {problem || "Reading the drawing …"}{" "}
              {problem ? <Dialog.Close className="quiet">Close</Dialog.Close> : null}
            </p>
          )}
        </SheetContent>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function leftOut(read: Read): string[] {
  return Object.entries(read.left_out).map(
    ([what, times]) => `Left out: ${what}${times > 1 ? `, ${times} times` : ""}.`,
  );
}

export function Radio({
  name,
  word,
  on,
  choose,
}: {
  name: string;
  word: string;
  on: boolean;
  choose: () => void;
}) {
  return (
    <label className="flex gap-1.5 items-center text-[14px] min-h-7">
      <input type="radio" name={name} checked={on} onChange={choose} />
      {word}
    </label>
  );
}

function Shapes({
  read,
  chosen,
  busy,
  onToggle,
}: {
  read: Read;
  chosen: number[];
  busy: boolean;
  onToggle: (index: number) => void;
}) {
  const { units } = useUnits();
  if (!read.size_m || read.shapes.length === 0) {
    return (
      <p className="text-slate self-center">
        {read.size_m
          ? `No closed outline was found (${read.found}).`
          : "The outlines are shown as soon as the unit is known."}
      </p>
    );
  }
  const [width, height] = read.size_m as [number, number];
  const margin = Math.max(width, height) * 0.03;
  const path = (ring: [number, number][]) => `M${ring.map(([x, y]) => `${x} ${height - y}`).join("L")}Z`;
  return (
    <div aria-busy={busy} className={busy ? "opacity-50 pointer-events-none" : ""}>
      <svg
        viewBox={`${-margin} ${-margin} ${width + 2 * margin} ${height + 2 * margin}`}
        className="w-full max-h-[380px] border border-line"
        role="group"
        aria-label="Outlines found; choose by tapping"
      >
        {read.shapes.map((shape, index) => (
          <path
            key={index}
            d={[shape.points_m, ...shape.holes_m].map((ring) => path(ring)).join("")}
            fillRule="evenodd"
            className="stroke-ink cursor-pointer"
            strokeWidth={margin * 0.05}
            fill={chosen.includes(index) ? "var(--liquid)" : "transparent"}
            pointerEvents="all"
            onClick={() => onToggle(index)}
          />
        ))}
      </svg>
      <ul className="mt-1 max-h-40 overflow-auto">
        {read.shapes.map((shape, index) => (
          <li key={index}>
            <label className="flex gap-2 items-center text-[13px] min-h-7">
              <input
                type="checkbox"
                disabled={busy}
                checked={chosen.includes(index)}
                onChange={() => onToggle(index)}
              />
              {shape.layer}: {text(shape.size_m[0]!, "length", units)} ×{" "}
              {text(shape.size_m[1]!, "length", units)}, {text(shape.area_m2, "area", units)}
              {shape.holes_m.length
                ? `, ${shape.holes_m.length} island${shape.holes_m.length > 1 ? "s" : ""}`
                : ""}
            </label>
          </li>
        ))}
      </ul>
    </div>
  );
}
