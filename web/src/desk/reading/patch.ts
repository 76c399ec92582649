import type { Box } from "../../api/client";

/** Patches smaller than this have nothing to draw from, picture pixels. */
export const LEAST = 24;

/** The box of a picture between two corners on a scaled view of it, kept inside; null if it is too small. */
export function patchOf(
  [x0, y0, x1, y1]: [number, number, number, number],
  scale: number,
  width: number,
  height: number,
): Box | null {
  const within = (value: number, most: number) => Math.min(Math.max(Math.round(value / scale), 0), most);
  const x = within(Math.min(x0, x1), width);
  const y = within(Math.min(y0, y1), height);
  const box = {
    x,
    y,
    width: within(Math.max(x0, x1), width) - x,
    height: within(Math.max(y0, y1), height) - y,
  };
  return box.width >= LEAST && box.height >= LEAST ? box : null;
}

/** The box round some points, whole pixels. */
export function boxOf(points: [number, number][]): Box {
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  const [x, y] = [Math.round(Math.min(...xs)), Math.round(Math.min(...ys))];
  return { x, y, width: Math.round(Math.max(...xs)) - x, height: Math.round(Math.max(...ys)) - y };
}
