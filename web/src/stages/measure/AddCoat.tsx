/** A coat in the making: its surface by measures, stations, a drawing, a photo or a mesh; how much by film, amount or
 *  rule. */
import { understandRows } from "../../api/operations.generated";
import { RadioGroup } from "radix-ui";
import { useState } from "react";
import { Refused } from "../../api/client";
import type { Piece } from "../../api/queries";
import { SIDES, withSide, type Lay, type Side } from "../../domain/lays";
import { freshId, type Shape } from "../../domain/shapes";
import { SURFACES, type Coat, type Surface, type SurfaceKind } from "../../domain/surfaces";
import { formOf } from "../../domain/work";
import { CoatSketch } from "../../drawing/CoatSketch";
import { QuantityField } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import { readingOf, readQuantities, readQuantity } from "../../ui/readQuantity";
import { DrawingSheet } from "./files/DrawingSheet";
import { ACCEPT, FileDrop, type Kept } from "../../ui/FileDrop";
import { MeshSheet } from "./files/MeshSheet";
import { PhotoSheet } from "./files/PhotoSheet";
import { OnTheDrawing } from "./OnTheDrawing";
import { COAT_PLACES } from "./places";
import { Tried } from "./Tried";
import { useTried } from "./useTried";
import { OutlineField, readPoints, useOutlineUnit } from "./OutlineField";

const SIDE_LABELS: Record<Side, string> = {
  film: "film of the first coat",
  amount: "or the amount",
  rule: "or a rule, per area",
};
const LIKE: Record<Side, string> = { film: "1 mm", amount: "200 mL in all", rule: "3 fl oz per ft2" };

interface Props {
  piece: Piece;
  onAdd: (coat: Coat) => Promise<void>;
  onCancel: () => void;
}

export function AddCoat({ piece, onAdd, onCancel }: Props) {
  const { units } = useUnits();
  const unit = useOutlineUnit();
  const usual = formOf(piece.kind_of_work);
  const [kind, setKind] = useState<SurfaceKind>(usual.surface);
  const [name, setName] = useState("");
  const [texts, setTexts] = useState<Record<string, string>>({});
  const [sides, setSides] = useState<Record<Side, string>>({ film: usual.film, amount: "", rule: "" });
  const [outline, setOutline] = useState("");
  const [stations, setStations] = useState("");
  const [file, setFile] = useState<Kept | null>(null);
  const [problem, setProblem] = useState<{ words: string; choices: string[] }>({ words: "", choices: [] });
  const say = (words: string, choices: string[] = []) => setProblem({ words, choices });
  const fields = SURFACES[kind].fields;
  const said = SIDES.filter((side) => sides[side].trim());
  const open = fields
    .filter((field) => !field.optional && !texts[field.key]?.trim())
    .map((field) => field.label);
  if (kind === "drawn" && !outline.trim()) open.push("the outline");
  if (kind === "stations" && !stations.trim()) open.push("the stations");
  if (!said.length) open.push("film, amount or rule");
  const id = freshId(
    "coat",
    [...(piece.voids ?? []), ...(piece.coats ?? [])].map((one) => one.id),
  );
  const lay = async (): Promise<Lay> => {
    const side = said[0]!;
    const bare = { id: `${id}-c` } as Lay;
    if (side !== "film") return withSide(bare, side, sides[side].trim());
    return withSide(bare, side, readingOf(await readQuantity(sides.film, "length", units), "chosen"));
  };
  const coatOf = async (surface: Surface, called = SURFACES[kind].name): Promise<Coat> => ({
    id,
    name: name.trim() || called,
    count: 1,
    faces: 1,
    edges: surface.kind === "cup" || surface.kind === "mesh" || surface.kind === "area" ? "none" : "all",
    wall: usual.adds === "coat" ? usual.wall : "wood",
    grain: usual.adds === "coat" ? usual.grain : "open",
    surface,
    lays: [await lay()],
  });
  const read = async (): Promise<Coat> => {
    const readings = await readQuantities(fields, texts, units);
    const rest: Record<string, unknown> = {};
    if (kind === "drawn") {
      rest.points_m = await readPoints(outline, unit);
      rest.points_as_typed = outline;
    }
    if (kind === "stations")
      rest.stations = (await understandRows({ text: stations, unit, kind: "stations" })).stations;
    return coatOf({ kind, ...readings, ...rest } as unknown as Surface);
  };
  const keep = async (make: () => Promise<Coat>) => {
    if (said.length > 1) return say("Type one of film, amount and rule; the other two follow.");
    try {
      await onAdd(await make());
    } catch (error) {
      const first = error instanceof Refused ? error.problem.problems?.[0] : undefined;
      const choices = first?.choices ?? [];
      say(
        first ? `${first.message} ${choices.length ? "" : first.way_out}` : (error as Error).message,
        choices,
      );
    }
  };
  /** A shape from a file, as the face of something to coat. */
  const take = (shape: Shape, called: string) =>
    keep(async () => {
      if (shape.kind === "outline") {
        const { points_m, holes_m, depth_m, area_spread, source } = shape;
        const surface = { kind: "drawn", points_m, holes_m, thickness_m: depth_m, area_spread, source };
        return coatOf(surface as unknown as Surface, called);
      }
      if (shape.kind !== "mesh" || !shape.skin_m2) throw new Error("A coat takes an outline or a mesh.");
      const surface = {
        kind: "mesh" as const,
        source: shape.source,
        whole_m2: shape.skin_m2,
        upward_m2: Math.max(shape.upward_m2 ?? 0, 1e-9),
      };
      return coatOf(surface, called);
    });
  const tried = useTried(
    async () => (open.length ? null : { ...piece, coats: [...(piece.coats ?? []), await read()] }),
    JSON.stringify([kind, texts, sides, outline, stations, units]),
  );
  return (
    <section aria-label="Add a coat" className="mt-3 grid gap-2.5">
      <RadioGroup.Root
        aria-label="Surface"
        className="flex flex-wrap gap-x-3 gap-y-1"
        value={kind}
        onValueChange={(one) => {
          setKind(one as SurfaceKind);
          say("");
        }}
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
              optional={field.optional}
              help={field.help}
              onWrong={onWrong}
              initial={texts[field.key] ?? ""}
              onText={(typed) => setTexts((now) => ({ ...now, [field.key]: typed }))}
              onCommit={() => undefined}
            />
          )}
        >
          {SIDES.map((side) => (
            <div key={side}>
              <label className="label" htmlFor={`coat-${side}`}>
                {SIDE_LABELS[side]}
              </label>
              <input
                id={`coat-${side}`}
                className="box tabular-nums"
                autoComplete="off"
                placeholder={LIKE[side]}
                value={sides[side]}
                onChange={(event) => {
                  const typed = event.target.value;
                  // Typing one side empties what was only usual.
                  setSides((now) => ({
                    ...now,
                    ...(side !== "film" && now.film === usual.film ? { film: "" } : {}),
                    [side]: typed,
                  }));
                }}
              />
            </div>
          ))}
        </OnTheDrawing>
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
          {problem.words ? (
            <p role="alert" className="text-rust font-medium text-[13px]">
              {problem.words}
              {problem.choices.map((choice) => (
                <button
                  key={choice}
                  className="quiet ml-3"
                  onClick={() => {
                    setSides((now) => ({ ...now, [said[0] ?? "amount"]: choice }));
                    say("");
                  }}
                >
                  {choice}
                </button>
              ))}
            </p>
          ) : null}
          <div className="flex gap-4">
            {kind === "mesh" ? null : (
              <button
                className="key"
                onClick={() => (open.length ? say(`Still to measure: ${open.join(", ")}.`) : void keep(read))}
              >
                Add the coat
              </button>
            )}
            <button className="quiet" onClick={onCancel}>
              Never mind
            </button>
          </div>
          <Tried plan={tried} id={id} tint={piece.tint ?? "#D39A3C"} />
        </div>
      </div>
      {kind === "stations" ? (
        <div>
          <label className="label" htmlFor="coat-stations">
            one station a line: place, width, in {unit}
          </label>
          <textarea
            id="coat-stations"
            rows={6}
            className="box font-mono text-[13px]"
            placeholder={"0 310\n400 352\n800 298"}
            value={stations}
            onChange={(event) => setStations(event.target.value)}
          />
        </div>
      ) : null}
      {kind === "drawn" ? (
        <>
          <FileDrop label="From a photo" accept={ACCEPT.photo} onKept={setFile} />
          <FileDrop label="From an SVG or DXF drawing" accept={ACCEPT.drawing} onKept={setFile} />
          <OutlineField text={outline} onText={setOutline} onRead={() => undefined} />
        </>
      ) : null}
      {kind === "mesh" ? (
        <FileDrop label="Choose the STL, OBJ, PLY or 3MF file" accept={ACCEPT.mesh} onKept={setFile} />
      ) : null}
      {file?.kind === "photo" ? (
        <PhotoSheet
          file={file}
          asks="thickness"
          onClose={() => setFile(null)}
          onShape={(shape) => take(shape, "Traced top")}
        />
      ) : null}
      {file && ["svg", "dxf"].includes(file.kind) ? (
        <DrawingSheet
          file={file}
          asks="thickness"
          onClose={() => setFile(null)}
          onShapes={(shapes) => take(shapes[0]!.shape, "Drawn top")}
        />
      ) : null}
      {file && ["stl", "obj", "ply", "3mf"].includes(file.kind) ? (
        <MeshSheet
          file={file}
          isCoated
          onClose={() => setFile(null)}
          onShape={(shape) => take(shape, "Outside of a mesh")}
        />
      ) : null}
    </section>
  );
}
