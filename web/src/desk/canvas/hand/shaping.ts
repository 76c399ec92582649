import type { Drawable, Stroke } from "../../../api/client";
import { useDeskState } from "../../state/state";
import { cutTo } from "../shapes";
import { type Gesture, type Ground, MOST_POINTS, type Point, pressed, takesAway } from "./gesture";
import { straightLine } from "./straight";

const state = useDeskState.getState;
/** Width of a line while it is drawn, pixels of the screen. */
const LINE_PX = 3;

/** Draw a stroke, a line round something, or a box. */
export function shaping(ground: Ground, down: PointerEvent): Gesture {
  const { drawing, onPicture } = ground;
  const { tool, softness, leading } = state();
  const size = leading ? LINE_PX / ground.viewer.camera.placing().scale : state().size;
  const line = tool === "brush" ? straightLine(ground, down) : null;
  const points = line ? line(down) : [onPicture(down)];
  drawing.shape =
    tool === "brush"
      ? {
          kind: "stroke",
          points,
          size,
          softness,
          erase: !leading && takesAway(),
          ...pressed(down, points.length),
        }
      : { kind: "outline", points, erase: takesAway() };
  return {
    move: (event) => {
      if (line && drawing.shape?.kind === "stroke") straighten(drawing.shape, line(event), event);
      else if (drawing.shape) extend(ground, drawing.shape, event);
    },
    end: (whole) => {
      const { shape } = drawing;
      drawing.shape = null;
      if (shape?.kind === "stroke") drawing.ended = (shape.points as Point[]).at(-1) ?? null;
      if (shape && whole) drawn(ground, shape);
    },
    drop: () => {
      drawing.shape = null;
    },
  };
}

/** Give a stroke the points of a straight line; a pen presses as hard all along as it does now. */
export function straighten(stroke: Stroke, points: Point[], event: PointerEvent) {
  stroke.points = points;
  if (stroke.pressure) Object.assign(stroke, pressed(event, points.length));
}

/** A shape is whole: it is kept, unless it is too little to be one. */
export function drawn({ draw }: Ground, shape: Drawable) {
  if (shape.kind === "outline" && shape.points.length < 3) return;
  draw(cutTo(shape, MOST_POINTS));
}

/** Go on with a shape to where a pointer is now, through all that a device gathered on the way. */
export function extend({ onPicture }: Ground, shape: Drawable, event: PointerEvent) {
  const points = shape.points as Point[];
  if (shape.kind === "outline" && state().tool === "box") {
    const [x0, y0] = points[0] ?? [0, 0];
    const [x1, y1] = onPicture(event);
    shape.points = [
      [x0, y0],
      [x1, y0],
      [x1, y1],
      [x0, y1],
    ];
    return;
  }
  const least = shape.kind === "stroke" ? Math.max(0.5, shape.size * 0.02) : 1;
  // What was not sent by a device was not gathered from anything.
  const gathered = event.getCoalescedEvents?.() ?? [];
  for (const each of gathered.length ? gathered : [event]) {
    const next = onPicture(each);
    const last = points.at(-1);
    if (last && Math.hypot(next[0] - last[0], next[1] - last[1]) < least) continue;
    points.push(next);
    if (shape.kind === "stroke") shape.pressure?.push(each.pressure);
  }
}
