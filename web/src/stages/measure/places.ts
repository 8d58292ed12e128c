/** Where the readings of a shape stand on its large drawing, in the sketch's own units (VoidSketch, LARGE). What is not
 *  here stands under the drawing. */
import type { ShapeKind } from "../../domain/shapes";
import type { SurfaceKind } from "../../domain/surfaces";

type Places = Record<string, [x: number, y: number]>;

export const VOID_PLACES: Partial<Record<ShapeKind, Places>> = {
  box: { length_m: [95, 110], width_m: [216, 82], depth_m: [-12, 54] },
  tapered: {
    length_m: [126, -14],
    width_m: [220, 20],
    bottom_length_m: [96, 110],
    bottom_width_m: [198, 88],
    depth_m: [-14, 52],
  },
  cylinder: { diameter_m: [100, 112], depth_m: [-10, 50] },
  cone: { top_diameter_m: [100, -12], bottom_diameter_m: [100, 112], depth_m: [-10, 50] },
  bowl: { rim_diameter_m: [100, -10], depth_m: [-10, 50] },
  crack: { width_m: [100, -10], depth_m: [6, 54], length_m: [184, 56] },
  river: { depth_m: [100, 106] },
  outline: { depth_m: [80, 108], draft_deg: [160, 108] },
  "fill test": { mass_kg: [192, 40], density_kg_m3: [192, 84], depth_m: [0, 58] },
  stated: { volume_m3: [100, 54], depth_m: [-2, 55] },
};

export const COAT_PLACES: Record<SurfaceKind, Places> = {
  board: { length_m: [100, 110], width_m: [-24, 46], thickness_m: [216, 46] },
  disc: { diameter_m: [100, 114], thickness_m: [186, 46] },
  drawn: { thickness_m: [214, 60] },
  stations: { thickness_m: [214, 60] },
  mesh: {},
  cup: {
    top_diameter_m: [100, -14],
    bottom_diameter_m: [100, 114],
    height_m: [4, 46],
    bare_band_m: [186, 20],
  },
  area: { area_m2: [100, 48] },
};
