/** Reads a mesh: its unit is asked, never guessed; which side is up; the space to fill, or a body standing
 *  in a form. */
import { aboutMesh, readMesh } from "../../../api/operations.generated";
import { MeshPreview } from "../MeshPreview";
import { Dialog } from "radix-ui";
import { Suspense, useEffect, useState } from "react";
import type { Schemas } from "../../../api/client";
import { text } from "../../../domain/format";
import type { Shape } from "../../../domain/shapes";
import { QuantityField } from "../../../ui/QuantityField";
import { useUnits } from "../../../ui/session";
import { readQuantities } from "../../../ui/readQuantity";
import { Radio } from "./DrawingSheet";
import { complaint, type Kept } from "../../../ui/FileDrop";
import { SheetContent } from "../../../ui/SheetContent";

const UNIT_M = { mm: 0.001, cm: 0.01, m: 1, in: 0.0254 } as const;
type Unit = keyof typeof UNIT_M;
const SIDES = ["length", "width", "depth"].map((key) => ({ key, kind: "length" }));
const UPS = ["z", "-z", "y", "-y", "x", "-x"] as const;

interface Props {
  file: Kept;
  onClose: () => void;
  onShape: (shape: Shape) => Promise<void>;
  /** its outside is coated: no form round it is asked for */
  isCoated?: boolean;
}

export function MeshSheet({ file, onClose, onShape, isCoated = false }: Props) {
  const { units } = useUnits();
  const [about, setAbout] = useState<Schemas["MeshAbout"] | null>(null);
  const [unit, setUnit] = useState<Unit | null>(null);
  const [up, setUp] = useState<(typeof UPS)[number]>("z");
  const [role, setRole] = useState<"cavity" | "body">("cavity");
  const [form, setForm] = useState<Record<string, string>>({});
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState("");
  useEffect(() => {
    aboutMesh(file.sha256)
      .then(setAbout)
      .catch((error) => setProblem(complaint(error)));
  }, [file.sha256]);
  const take = async () => {
    if (!unit) return setProblem("Say which unit it was drawn in.");
    if (role === "body" && SIDES.some(({ key }) => !form[key]?.trim()))
      return setProblem("Type the form's inside length, width and depth.");
    setBusy(true);
    try {
      const sides = role === "body" ? await readQuantities(SIDES, form, units) : null;
      const shape = await readMesh(file.sha256, {
        unit,
        up,
        role,
        form_m: sides ? (SIDES.map(({ key }) => sides[key]!.value) as [number, number, number]) : null,
      });
      await onShape(shape as Shape);
      onClose();
    } catch (error) {
      setProblem(complaint(error));
    }
    setBusy(false);
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="over" />
        <SheetContent className="sheet wide">
          <Dialog.Title className="mb-1">Mesh {file.name}</Dialog.Title>
          {about ? (
            <div className="grid grid-cols-[minmax(0,1fr)_260px] gap-5 max-sm:grid-cols-1">
              {unit ? (
                <Suspense fallback={<p className="text-slate">Opening the view …</p>}>
                  <MeshPreview sha={file.sha256} unit={unit} up={up} levels={[]} tint="#D39A3C" />
                </Suspense>
              ) : (
                <p className="text-slate self-center">It is drawn here as soon as its unit is known.</p>
              )}
              <div className="grid gap-3 content-start">
                <p className="text-[13px] text-slate">
                  {about.triangles.toLocaleString("en")} triangles, closed.
                </p>
                {about.notes.map((note) => (
                  <p key={note} className="text-[13px]">
                    {note}
                  </p>
                ))}
                <fieldset>
                  <legend className="text-[13px] text-slate">
                    unit it was drawn in
                    {about.declared ? `; the file says ${about.declared}` : "; the file does not say"}
                  </legend>
                  {(Object.keys(UNIT_M) as Unit[]).map((one) => (
                    <Radio
                      key={one}
                      name="mesh-unit"
                      word={`${one}: ${about.size.map((side) => text(side * UNIT_M[one], "length", units)).join(" × ")}`}
                      on={unit === one}
                      choose={() => setUnit(one)}
                    />
                  ))}
                </fieldset>
                <fieldset>
                  <legend className="text-[13px] text-slate">up is</legend>
                  <div className="flex gap-x-3 flex-wrap">
                    {UPS.map((one) => (
                      <Radio key={one} name="mesh-up" word={one} on={up === one} choose={() => setUp(one)} />
                    ))}
                  </div>
                </fieldset>
                {isCoated ? null : (
                  <fieldset>
                    <legend className="text-[13px] text-slate">it is</legend>
                    <Radio
                      name="role"
                      word="the space to fill"
                      on={role === "cavity"}
                      choose={() => setRole("cavity")}
                    />
                    <Radio
                      name="role"
                      word="a body standing in a form"
                      on={role === "body"}
                      choose={() => setRole("body")}
                    />
                  </fieldset>
                )}
                {role === "body" ? (
                  <div className="grid grid-cols-3 gap-2">
                    {SIDES.map(({ key }) => (
                      <QuantityField
                        key={key}
                        label={`form ${key}`}
                        kind="length"
                        initial={form[key]}
                        onText={(typed) => setForm((now) => ({ ...now, [key]: typed }))}
                        onCommit={() => undefined}
                      />
                    ))}
                  </div>
                ) : null}
                {problem ? (
                  <p role="alert" className="text-rust font-medium text-[13px]">
                    {problem}
                  </p>
                ) : null}
                <div className="flex gap-4">
                  <button className="key" disabled={busy} onClick={() => void take()}>
                    {busy ? "Reading …" : "Add it"}
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
              {problem || "Reading the mesh …"}{" "}
              {problem ? <Dialog.Close className="quiet">Close</Dialog.Close> : null}
            </p>
          )}
        </SheetContent>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
