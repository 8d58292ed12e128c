/** A coat in the making. */
import { RadioGroup } from "radix-ui";
import { useState } from "react";
import { Refused } from "../../api/client";
import type { Piece } from "../../api/queries";
import { freshId } from "../../domain/shapes";
import { SURFACES, type Coat, type Surface, type SurfaceKind } from "../../domain/surfaces";
import { formOf } from "../../domain/work";
import { CoatSketch } from "../../drawing/CoatSketch";
import { QuantityField } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { readQuantities } from "../../ui/readQuantity";
import { OnTheDrawing } from "./OnTheDrawing";
import { COAT_PLACES } from "./places";
import { Tried } from "./Tried";
import { useTried } from "./useTried";
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
  const usual = formOf(piece.kind_of_work);
  const [kind, setKind] = useState<SurfaceKind>(usual.surface);
  const [name, setName] = useState("");
  const [texts, setTexts] = useState<Record<string, string>>(usual.film ? { film_m: usual.film } : {});
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
  const missing = fields.filter(
    (field) => !("optional" in field && field.optional) && !texts[field.key]?.trim(),
  );
  const id = freshId(
    "coat",
    [...(piece.voids ?? []), ...(piece.coats ?? [])].map((one) => one.id),
  );
  const read = async (): Promise<Coat> => {
    const { film_m, ...readings } = await readQuantities(fields, texts, units);
    const points =
      kind === "drawn" ? { points_m: await readPoints(outline, unit), points_as_typed: outline } : {};
    return {
      id,
      name: name.trim() || SURFACES[kind].name,
      count: 1,
      faces: 1,
      edges: "all",
      wall: usual.adds === "coat" ? usual.wall : "wood",
      grain: usual.adds === "coat" ? usual.grain : "open",
      film_m: { ...film_m, origin: "chosen" },
      surface: { kind, ...readings, ...points } as unknown as Surface,
      portions: [{ id: `${id}-p`, colour: "" }],
    } as Coat;
  };
  const add = async () => {
    if (missing.length)
      return setProblem(`Still to measure: ${missing.map((field) => field.label).join(", ")}.`);
    try {
      await onAdd(await read());
    } catch (error) {
      const first = error instanceof Refused ? error.problem.problems?.[0] : undefined;
      setProblem(first ? `${first.message} ${first.way_out}` : (error as Error).message);
    }
  };
  const tried = useTried(
    async () =>
      missing.length || (kind === "drawn" && !outline.trim())
        ? null
        : { ...piece, coats: [...(piece.coats ?? []), await read()] },
    JSON.stringify([kind, texts, outline, units]),
  );
  return (
    <section aria-label="Add a coat" className="mt-3 grid gap-2.5">
      <RadioGroup.Root
        aria-label="Surface"
        className="flex flex-wrap gap-x-3 gap-y-1"
        value={kind}
        onValueChange={(one) => setKind(one as SurfaceKind)}
      >
        {(Object.keys(SURFACES) as SurfaceKind[]).map((one) => (
          <RadioGroup.Item
            key={one}
            value={one}
            className={`min-h-10 border-b-2 ${kind === one ? "border-spruce font-semibold" : "border-transparent text-slate"}`}
          >
            {SURFACES[one].name}
          </RadioGroup.Item>
        ))}
      </RadioGroup.Root>
      <div className="grid gap-x-8 gap-y-3 grid-cols-[minmax(0,1.7fr)_minmax(220px,1fr)] max-xl:grid-cols-1">
        <OnTheDrawing
          places={COAT_PLACES[kind]}
          fields={fields}
          drawing={(wrong) => <CoatSketch large wrong={wrong} surface={{ kind } as never} />}
          field={(field, onWrong) => (
            <QuantityField
              key={`${kind}-${field.key}`}
              label={field.label}
              kind={field.kind}
              optional={"optional" in field && field.optional}
              help={field.help}
              onWrong={onWrong}
              initial={texts[field.key] ?? ""}
              onText={(typed) => setTexts((now) => ({ ...now, [field.key]: typed }))}
              onCommit={() => undefined}
            />
          )}
        />
        <div className="grid gap-2.5 content-start">
          <div>
            <label className="label" htmlFor="coat-name">
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
          <Tried plan={tried} id={id} tint={piece.tint ?? "#D39A3C"} />
        </div>
      </div>
      {kind === "drawn" ? <OutlineField text={outline} onText={setOutline} onRead={() => undefined} /> : null}
    </section>
  );
}
