/** Traces a void from a photo: a known rectangle or two known lengths, a tap inside, the outline found and
 *  corrected point by point. */
import { aboutPhoto, tracePhoto } from "../../../api/operations.generated";
import { Dialog } from "radix-ui";
import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../../../api/client";
import { text } from "../../../domain/format";
import type { Shape } from "../../../domain/shapes";
import { QuantityField } from "../../../ui/QuantityField";
import { useUnits } from "../../../ui/session";
import { readQuantities } from "../../../ui/readQuantity";
import { Radio } from "./DrawingSheet";
import { complaint, type Kept } from "../../../ui/FileDrop";
import { PhotoBoard, type Pixel } from "./PhotoBoard";
import { Shape as Mark } from "../../../ui/Verdicts";
import { SheetContent } from "../../../ui/SheetContent";

type Traced = Schemas["TraceAnswer"];
type Kind = "rectangle" | "lengths";

interface Props {
  file: Kept;
  onClose: () => void;
  onShape: (shape: Shape) => Promise<void>;
  /** A tracing to be corrected. */
  before?: Schemas["Trace"] | null | undefined;
  depth?: string | undefined;
  /** what is asked beside the outline: how deep it is, or how thick what is coated */
  asks?: "depth" | "thickness";
}

const SAID: Record<Kind, [string, string]> = {
  rectangle: ["from corner 1 to 2", "from corner 2 to 3"],
  lengths: ["from 1 to 2", "from 3 to 4"],
};

const HAND_RESTS_MS = 300;
const READINGS = ["first", "second", "above", "camera", "depth"].map((key) => ({ key, kind: "length" }));

/** Four places to begin with: the middle part of the picture. */
function startPoints(width: number, height: number): Pixel[] {
  const shares: Pixel[] = [
    [0.2, 0.2],
    [0.5, 0.2],
    [0.5, 0.5],
    [0.2, 0.5],
  ];
  return shares.map(([x, y]) => [x * width, y * height]);
}

export function PhotoSheet({ file, onClose, onShape, before, depth: depthBefore, asks = "depth" }: Props) {
  const { units } = useUnits();
  const [size, setSize] = useState<Schemas["PhotoAbout"] | null>(null);
  const [kind, setKind] = useState<Kind>(before?.reference ?? "rectangle");
  const [corners, setCorners] = useState<Pixel[]>(before?.points_px ?? []);
  const [texts, setTexts] = useState<Record<string, string>>({
    ...before?.typed,
    ...(depthBefore ? { depth: depthBefore } : {}),
  });
  const [seeds, setSeeds] = useState<Pixel[]>([]);
  const [outline, setOutline] = useState<Pixel[]>(before?.outline_px ?? []);
  const [moved, setMoved] = useState(false);
  const [traced, setTraced] = useState<Traced | null>(null);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState("");
  useEffect(() => {
    aboutPhoto(file.sha256)
      .then((found) => {
        setSize(found);
        if (!before) setCorners(startPoints(found.width, found.height));
      })
      .catch((error) => setProblem(complaint(error)));
  }, [file.sha256, before]);

  const asked = useRef(0);
  const resting = useRef(0);
  const put = (key: string) => (typed: string) => setTexts((now) => ({ ...now, [key]: typed }));
  const trace = async (body: { seeds_px?: Pixel[]; outline_px?: Pixel[]; moved?: boolean }) => {
    if (!texts.first?.trim() || !texts.second?.trim()) {
      setBusy(false);
      return setProblem(`Type both lengths ${SAID[kind].join(" and ")}.`);
    }
    const mine = (asked.current += 1);
    setBusy(true);
    setProblem("");
    try {
      const { first, second, above, camera } = await readQuantities(READINGS, texts, units);
      const reference = {
        kind,
        points_px: corners,
        first_m: first!.value,
        second_m: second!.value,
        first_spread_m: first!.spread ?? 0,
        second_spread_m: second!.spread ?? 0,
      };
      const parallax = above && camera ? { above_m: above.value, camera_m: camera.value } : null;
      const found = await tracePhoto(file.sha256, {
        reference,
        parallax,
        ...body,
      });
      if (mine !== asked.current) return; // a later question is on its way: its answer counts
      setTraced(found);
      if (!body.outline_px) setOutline(found.outline_px);
    } catch (error) {
      if (mine === asked.current) setProblem(complaint(error));
    }
    if (mine === asked.current) setBusy(false);
  };
  const tap = (place: Pixel) => {
    const next = [...seeds, place];
    setSeeds(next);
    setMoved(false);
    void trace({ seeds_px: next });
  };
  const correct = (points: Pixel[], done: boolean) => {
    asked.current += 1; // what is on its way was asked of an older outline
    setOutline(points);
    setMoved(true);
    window.clearTimeout(resting.current);
    setBusy(true);
    if (done)
      resting.current = window.setTimeout(
        () => void trace({ outline_px: points, moved: true }),
        HAND_RESTS_MS,
      );
  };
  const take = async () => {
    if (!traced)
      return setProblem(
        before ? "Move a point, or tap inside the void again." : "Tap inside the void first.",
      );
    if (!texts.depth?.trim())
      return setProblem(asks === "depth" ? "Type how deep it is." : "Type how thick it is at the edge.");
    const said = `${kind === "rectangle" ? "perspective taken out by a known rectangle" : "two known lengths, from straight above"}; ${moved ? "outline corrected by hand" : "outline found by the computer"}${traced.doubts.length ? `; doubted: ${traced.doubts.join(" ")}` : ""}`;
    try {
      const { depth } = await readQuantities(READINGS, texts, units);
      await onShape({
        kind: "outline",
        points_m: traced.points_m,
        holes_m: [],
        depth_m: depth,
        area_spread: { value: traced.half_m2 / traced.area_m2, as_typed: "", origin: "computed" },
        source: {
          format: "photo",
          name: file.name,
          file: file.sha256,
          read_as: said,
          trace: {
            reference: kind,
            points_px: corners,
            outline_px: outline,
            typed: Object.fromEntries(
              ["first", "second", "above", "camera"]
                .filter((key) => texts[key])
                .map((key) => [key, texts[key]]),
            ),
          },
        },
      } as unknown as Shape);
      onClose();
    } catch (error) {
      setProblem(complaint(error));
    }
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="over" />
        <SheetContent className="sheet wider">
          <Dialog.Title className="mb-1">Trace a void from the photo</Dialog.Title>
          {size ? (
            <div className="grid grid-cols-[minmax(0,1fr)_270px] gap-5 max-sm:grid-cols-1">
              <PhotoBoard
                src={`/api/v1/files/${file.sha256}/photo.jpg`}
                width={size.width}
                height={size.height}
                kind={kind}
                corners={corners}
                onCorners={(next) => {
                  asked.current += 1;
                  setBusy(false);
                  setCorners(next);
                  setTraced(null);
                }}
                outline={outline}
                onOutline={correct}
                onTap={tap}
              />
              <div className="grid gap-2.5 content-start">
                <fieldset>
                  <legend className="text-[13px] text-slate">what is known in the picture</legend>
                  <Radio
                    name="reference"
                    word="a rectangle lying beside it"
                    on={kind === "rectangle"}
                    choose={() => setKind("rectangle")}
                  />
                  <Radio
                    name="reference"
                    word="two lengths, taken straight from above"
                    on={kind === "lengths"}
                    choose={() => setKind("lengths")}
                  />
                </fieldset>
                <ol className="list-decimal pl-5 text-[13px] grid gap-2">
                  <li>
                    Drag{" "}
                    {kind === "rectangle"
                      ? "the four corners onto the rectangle, in order round it"
                      : "1–2 and 3–4 onto the ends of the two lengths"}
                    .
                    <div className="grid grid-cols-2 gap-2 mt-1">
                      {([0, 1] as const).map((side) => (
                        <QuantityField
                          key={side}
                          label={SAID[kind][side]}
                          kind="length"
                          initial={texts[side ? "second" : "first"]}
                          onText={put(side ? "second" : "first")}
                          onCommit={() => undefined}
                        />
                      ))}
                    </div>
                  </li>
                  <li>
                    Tap inside the void.{" "}
                    {busy
                      ? "Looking for its edge …"
                      : seeds.length
                        ? "Tap again where a part is missing."
                        : ""}{" "}
                    <button
                      className="quiet"
                      onClick={() => {
                        setSeeds([]);
                        setOutline([]);
                        setTraced(null);
                        tap([size.width / 2, size.height / 2]);
                      }}
                    >
                      The middle of the picture is inside
                    </button>
                  </li>
                  <li>
                    Drag a point of the outline where it is wrong; double-click takes it out, a click on the
                    line adds one.
                  </li>
                </ol>
                <details>
                  <summary className="quiet">The reference lies higher or lower than the rim</summary>
                  <div className="grid grid-cols-2 gap-2">
                    <QuantityField
                      label="higher by"
                      kind="length"
                      optional
                      initial={texts.above}
                      onText={put("above")}
                      onCommit={() => undefined}
                    />
                    <QuantityField
                      label="camera above the rim"
                      kind="length"
                      optional
                      initial={texts.camera}
                      onText={put("camera")}
                      onCommit={() => undefined}
                    />
                  </div>
                </details>
                {traced ? (
                  <section aria-label="What was traced" className="border-t border-line pt-2">
                    <p className="text-[20px] font-semibold tabular-nums">
                      {text(traced.area_m2, "area", units)}{" "}
                      <span className="text-[14px]">± {text(traced.half_m2, "area", units)}</span>
                    </p>
                    <p className="text-[12px] text-slate">
                      ± {((100 * traced.half_m2) / traced.area_m2).toFixed(1)} %, about 95 of 100; most of it
                      from {most(traced.shares)}. Lens distortion is left out: keep both in the middle of the
                      picture.
                    </p>
                    {traced.is_good ? null : (
                      <ul aria-label="What speaks against it" className="mt-1.5 text-[13px] grid gap-1">
                        {traced.doubts.length ? (
                          traced.doubts.map((doubt) => (
                            <li key={doubt} className="grid grid-cols-[18px_1fr] gap-1.5">
                              <span className="pt-0.5">
                                <Mark weight="warning" />
                              </span>
                              {doubt}
                            </li>
                          ))
                        ) : (
                          <li className="grid grid-cols-[18px_1fr] gap-1.5">
                            <span className="pt-0.5">
                              <Mark weight="warning" />
                            </span>
                            Only a rough guess: a larger sheet, nearer to the void, tells it better.
                          </li>
                        )}
                      </ul>
                    )}
                  </section>
                ) : null}
                <QuantityField
                  label={asks}
                  kind="length"
                  initial={texts.depth}
                  onText={put("depth")}
                  onCommit={() => undefined}
                />
                {problem ? (
                  <p role="alert" className="text-rust font-medium text-[13px]">
                    {problem}
                  </p>
                ) : null}
                <div className="flex gap-4">
                  <button className="key" disabled={busy} onClick={() => void take()}>
                    Use this outline
                  </button>
                  <Dialog.Close className="quiet">Never mind</Dialog.Close>
                </div>
              </div>
            </div>
          ) : (
            <p
              role={problem ? "alert" : undefined}
              className={problem ? "text-rust font-medium" : "text-slate"}
            >
              {problem || "Opening the photo …"}{" "}
              {problem ? <Dialog.Close className="quiet">Close</Dialog.Close> : null}
            </p>
          )}
        </SheetContent>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function most(shares: Record<string, number>): string {
  return Object.entries(shares).toSorted((one, other) => other[1] - one[1])[0]?.[0] ?? "";
}
