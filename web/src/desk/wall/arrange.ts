import type { Sweep } from "../../api/client";

/** So many takes can hang on the wall at a time; "all" is as many as there are, six at most. */
export const COUNTS = ["all", "2", "3", "4", "6"] as const;
export type Count = (typeof COUNTS)[number];
export const MOST = 6;

/** What hangs on the wall: as shot (0) and all takes that are not out, the newest that fit if there are too many; the
 * one that stands is always among them. */
export function hung(sweep: Sweep, out: number[], count: Count, stands: number): number[] {
  const most = count === "all" ? MOST : Number(count);
  const all = [0, ...sweep.takes.map((take) => take.id)];
  const left = all.filter((take) => !out.includes(take) || take === stands);
  if (left.length <= most) return left;
  const at = left.indexOf(stands);
  // As shot stays in its place while there is room for it; the rest is the stretch that ends with the newest, or that
  // begins with the one that stands.
  const first = at <= 0 ? left.length - (most - 1) : Math.min(Math.max(at, 1), left.length - (most - 1));
  return [0, ...left.slice(first, first + most - 1)];
}

/** In how many columns so many pictures of a shape are largest in a room. */
export function columns(many: number, room: { width: number; height: number }, shape: number): number {
  let best = 1;
  let largest = 0;
  for (let across = 1; across <= many; across++) {
    const down = Math.ceil(many / across);
    const wide = Math.min(room.width / across, (room.height / down) * shape);
    if (wide > largest + 0.5) {
      best = across;
      largest = wide;
    }
  }
  return best;
}
