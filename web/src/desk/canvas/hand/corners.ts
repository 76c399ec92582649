import { type Gesture, type Ground, takesAway } from "./gesture";
import { drawn } from "./shaping";

/** How near to the first corner a click closes the line, in screen pixels. */
const CLOSE = 10;

/** Set the next corner, or close the line: on the first one, or by a double click. */
export function corner(ground: Ground, down: PointerEvent): Gesture {
  const { drawing, viewer, onPicture } = ground;
  const at = onPicture(down);
  const [first] = drawing.corners;
  const reach = CLOSE / viewer.camera.placing().scale;
  const closes = first && Math.hypot(at[0] - first[0], at[1] - first[1]) <= reach;
  if (drawing.corners.length >= 3 && (closes || down.detail > 1)) {
    closeCorners(ground);
    return {};
  }
  if (closes) return {};
  drawing.corners.push(at);
  return {
    drop: () => {
      if (drawing.corners.at(-1) === at) drawing.corners.pop();
    },
  };
}

/** Corners are ended, taken back or dropped by key; whether it was one of theirs. */
export function cornerKey(ground: Ground, key: string): boolean {
  const { drawing } = ground;
  if (!drawing.corners.length) return false;
  if (key === "Enter") closeCorners(ground);
  else if (key === "Backspace") drawing.corners.pop();
  else if (key === "Escape") drawing.corners = [];
  else return false;
  return true;
}

function closeCorners(ground: Ground) {
  const points = ground.drawing.corners;
  ground.drawing.corners = [];
  drawn(ground, { kind: "outline", points, erase: takesAway() });
}
