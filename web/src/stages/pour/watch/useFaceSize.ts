/** How long and wide the piece's first hollow was measured, as text to begin with; null where it is no rectangle. */
import { useQuery } from "@tanstack/react-query";
import { readPiece } from "../../../api/operations.generated";
import { text } from "../../../domain/format";
import { useUnits } from "../../../ui/session";

export function useFaceSize(pieceId: number | null): { length: string; width: string } | null {
  const { units } = useUnits();
  const piece = useQuery({
    queryKey: ["piece", pieceId],
    queryFn: () => readPiece(pieceId!),
    enabled: pieceId !== null,
  });
  const shape = piece.data?.piece.voids?.[0]?.shape;
  if (!shape || !("length_m" in shape) || !("width_m" in shape) || !shape.length_m || !shape.width_m)
    return null;
  const said = (one: unknown) => text((one as { value: number }).value, "length", units);
  return { length: said(shape.length_m), width: said(shape.width_m) };
}
