/** A mesh in three dimensions, with the levels it is filled to. */
import { Suspense, useState } from "react";
import type { Present, Schemas } from "../../api/client";
import { MeshPreview } from "./MeshPreview";

/** Three dimensions only when asked for: the script is large and most people read the section. */
export function MeshPeek({
  shape,
  levels,
  tint,
}: {
  shape: { sha: string; unit: Schemas["Mesh"]["unit"]; up: Present<Schemas["Mesh"]["up"]> };
  levels: number[];
  tint: string;
}) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <button className="quiet text-left" onClick={() => setOpen(true)}>
        Show it in three dimensions
      </button>
    );
  return (
    <Suspense fallback={<p className="text-slate text-[13px]">Opening the view …</p>}>
      <MeshPreview sha={shape.sha} unit={shape.unit} up={shape.up} levels={levels} tint={tint} />
    </Suspense>
  );
}
