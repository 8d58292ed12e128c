/** Layer boundaries while they are moved: which may move, how far, and the V(h) table in between. */
import type { Piece, Plan } from "../api/queries";

export type Table = readonly (readonly [number, number] | number[])[];

/** Volume at a height by linear interpolation in the table the server sent; the exact answer follows. */
export function volumeAt(table: Table, height: number): number {
  const last = table[table.length - 1]!;
  if (height <= table[0]![0]) return table[0]![1];
  if (height >= last[0]) return last[1];
  const step = table.findIndex((row) => row[0] >= height);
  const [low, high] = [table[step - 1]!, table[step]!];
  return low[1] + ((height - low[0]) / (high[0] - low[0])) * (high[1] - low[1]);
}

export interface Edge {
  /** index into the void's layers: the boundary is the top of this layer */
  layer: number;
  portionId: string;
  at: number;
  least: number;
  most: number;
  movable: boolean;
}

const THINNEST = 0.0005;

/** The tops of all layers of a void but the last. Where the colour or system changes, the boundary stays. */
export function edgesOf(plan: Plan, voidId: string): Edge[] {
  const layers = layersOf(plan, voidId);
  return layers.slice(0, -1).map((layer, index) => ({
    layer: index,
    portionId: layer.portion_id,
    at: layer.to_m,
    least: layer.from_m + THINNEST,
    most: layers[index + 1]!.to_m - THINNEST,
    movable: layers[index + 1]!.portion_id === layer.portion_id,
  }));
}

export function layersOf(plan: Plan, voidId: string) {
  return plan.pours.flatMap((pour) => pour.layers).filter((layer) => layer.void_id === voidId);
}

/** The piece with every portion's boundaries written down as planned, the moved one changed: the person's
 *  own split. */
export function withBoundary(
  piece: Piece,
  plan: Plan,
  voidId: string,
  edge: Edge,
  at: number,
  asTyped?: string,
): Piece {
  const voids = (piece.voids ?? []).map((hollow) => {
    const edges = edgesOf(plan, hollow.id);
    const portions = hollow.portions.map((portion) => ({
      ...portion,
      boundaries_m: edges
        .filter((one) => one.portionId === portion.id && one.movable)
        .map((one) => {
          const moved = hollow.id === voidId && one.layer === edge.layer;
          return reading(moved ? at : one.at, moved ? asTyped : undefined);
        }),
    }));
    return { ...hollow, portions };
  });
  return { ...piece, layering: "own", voids };
}

function reading(value: number, asTyped?: string) {
  const mm = `${Number((value * 1000).toFixed(2))} mm`;
  return {
    value: asTyped ? value : Number((value * 1000).toFixed(2)) / 1000,
    as_typed: asTyped ?? mm,
    origin: "chosen" as const,
  };
}
