/** Four corners on a picture: where they begin, and which one a tap means. */
import type { Pixel } from "../../measure/files/PhotoBoard";

/** As shares of the picture: far left, far right, near right, near left. */
export const START: Pixel[] = [
  [0.2, 0.22],
  [0.8, 0.22],
  [0.8, 0.78],
  [0.2, 0.78],
];

/** The corner that lies nearest to a tap goes there. */
export function nearestTo(corners: Pixel[], place: Pixel): Pixel[] {
  const away = corners.map(([x, y]) => Math.hypot(x - place[0], y - place[1]));
  const which = away.indexOf(Math.min(...away));
  return corners.map((one, index) => (index === which ? place : one));
}

/** Does a place lie inside four corners that go round to the right, as they are seen? */
export function holds(corners: Pixel[], [x, y]: Pixel): boolean {
  return corners.every(([ax, ay], index) => {
    const [bx, by] = corners[(index + 1) % corners.length]!;
    return (bx - ax) * (y - ay) - (by - ay) * (x - ax) > 0;
  });
}
