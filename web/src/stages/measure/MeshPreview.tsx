/** A mesh file drawn in three dimensions: fetched here, drawn by a part that is loaded only when it is
 *  wanted. */
import { previewMesh } from "../../api/operations.generated";
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import type { Present, Schemas } from "../../api/client";

const MeshView = lazy(() => import("../../drawing/MeshView"));

interface Props {
  sha: string;
  unit: Schemas["Mesh"]["unit"];
  up: Present<Schemas["Mesh"]["up"]>;
  /** Heights of the layers' tops [m], from below. */
  levels: number[];
  tint: string;
}

export function MeshPreview({ sha, unit, up, levels, tint }: Props) {
  const found = useQuery({
    queryKey: ["mesh", sha, unit, up],
    queryFn: () => previewMesh(sha, { unit, up }),
    staleTime: Infinity,
  });
  if (found.error)
    return (
      <p role="alert" className="text-rust text-[13px]">
        {found.error.message}
      </p>
    );
  const waiting = <p className="text-[12px] text-slate">Opening the mesh …</p>;
  if (!found.data) return waiting;
  return (
    <Suspense fallback={waiting}>
      <MeshView mesh={found.data} levels={levels} tint={tint} />
    </Suspense>
  );
}
