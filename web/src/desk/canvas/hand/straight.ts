import type { Ground, Point } from "./gesture";

/** How far a pointer that is down with Shift moves before it is a drag, CSS pixels. */
const DRAG_PX = 4;

/**
 * The points of a straight stroke that was begun with Shift: from the end of the last stroke to the pointer, or, once
 * the pointer is dragged, from where it came down. Null if it was begun without Shift.
 */
export function straightLine(ground: Ground, down: PointerEvent): ((event: PointerEvent) => Point[]) | null {
  if (!down.shiftKey) return null;
  const start = ground.place(down);
  const from = ground.onPicture(down);
  const { ended } = ground.drawing;
  let dragged = false;
  return (event) => {
    const at = ground.place(event);
    dragged ||= Math.hypot(at.x - start.x, at.y - start.y) >= DRAG_PX;
    const to = ground.onPicture(event);
    if (dragged) return [from, to];
    return ended ? [ended, from] : [from];
  };
}
