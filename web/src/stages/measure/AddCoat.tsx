/** A coat in the making. */
import { useState } from "react";
import { Refused } from "../../api/client";
import type { Piece } from "../../api/queries";
import { freshId } from "../../domain/shapes";
import { SURFACES, type Coat, type Surface, type SurfaceKind } from "../../domain/surfaces";
import { CoatSketch } from "../../drawing/CoatSketch";
import { QuantityField } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { readQuantities } from "../../ui/readQuantity";
import { OutlineField, readPoints, useOutlineUnit } from "./OutlineField";

export function AddCoat({
  piece,
  onAdd,
  onCancel,
}: {
  piece: Piece;
  onAdd: (coat: Coat) => Promise<void>;
  onCancel: () => void;
}) {
  const { units } = useUnits();
  const unit = useOutlineUnit();
  const [kind, setKind] = useState<SurfaceKind>("board");
  const [name, setName] = useState("");
  const [texts, setTexts] = useState<Record<string, string>>({});
  const [outline, setOutline] = useState("");
  const [problem, setProblem] = useState("");
  const fields = [
    ...SURFACES[kind].fields,
    {
      key: "film_m",
      label: "film wanted in all",
      kind: "length",
      mark: "",
      help: "seal 0.3 mm, flood 1 to 1.5 mm are usual",
    },
  ];
  const add = async () => {
    const missing = fields.filter(
      (field) => !("optional" in field && field.optional) && !texts[field.key]?.trim(),
    );
    if (missing.length)
      return setProblem(`Still to measure: ${missing.map((field) => field.label).join(", ")}.`);
    try {
      const { film_m, ...readings } = await readQuantities(fields, texts, units);
      const points =
        kind === "drawn" ? { points_m: await readPoints(outline, unit), points_as_typed: outline } : {};
      const id = freshId(
        "coat",
        [...(piece.voids ?? []), ...(piece.coats ?? [])].map((one) => one.id),
      );
      await onAdd({
        id,
        name: name.trim() || SURFACES[kind].name,
        count: 1,
        faces: 1,
        edges: "all",
        wall: "wood",
        grain: "open",
        film_m: { ...film_m, origin: "chosen" },
        surface: { kind, ...readings, ...points } as unknown as Surface,
        portions: [{ id: `${id}-p`, colour: "" }],
      } as Coat);
    } catch (error) {
      const first = error instanceof Refused ? error.problem.problems?.[0] : undefined;
      setProblem(first ? `${first.message} ${first.way_out}` : (error as Error).message);
    }
  };
  return (
    <section aria-label="Add a coat" className="mt-2 grid gap-2.5">
      <div role="radiogroup" aria-label="Surface" className="flex flex-wrap gap-x-3 gap-y-1">
        {(Object.keys(SURFACES) as SurfaceKind[]).map((one) => (
          <button
            key={one}
            role="radio"
            aria-checked={kind === one}
            className={`min-h-8 border-b-2 ${kind === one ? "border-spruce font-semibold" : "border-transparent text-slate"}`}
            onClick={() => setKind(one)}
          >
            {SURFACES[one].name}
          </button>
        ))}
      </div>
      <CoatSketch
        surface={
          {
            kind,
            ...Object.fromEntries(Object.entries(texts).map(([key, as_typed]) => [key, { as_typed }])),
          } as never
        }
      />
      <div className="grid grid-cols-2 gap-2.5">
        <div>
          <label className="block text-[13px] text-slate" htmlFor="coat-name">
            name
          </label>
          <input
            id="coat-name"
            className="box"
            placeholder={SURFACES[kind].name}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </div>
        {fields.map((field) => (
          <QuantityField
            key={`${kind}-${field.key}`}
            label={field.label}
            kind={field.kind}
            optional={"optional" in field && field.optional}
            help={field.help}
            initial={texts[field.key] ?? ""}
            onText={(typed) => setTexts((now) => ({ ...now, [field.key]: typed }))}
            onCommit={() => undefined}
          />
        ))}
      </div>
      {kind === "drawn" ? <OutlineField text={outline} onText={setOutline} onRead={() => undefined} /> : null}
      {problem ? (
        <p role="alert" className="text-rust font-medium text-[13px]">
          {problem}
        </p>
      ) : null}
      <div className="flex gap-4">
        <button className="key" onClick={() => void add()}>
          Add the coat
        </button>
        <button className="quiet" onClick={onCancel}>
          Never mind
        </button>
      </div>
    </section>
  );
}
