import { useDeskState } from "../../state/state";
import { cutShort, type Placing } from "../shapes";
import { copiedFrom, isTouch, type Laid, sourceAt } from "../touching";
import { type Gesture, type Ground, MOST_POINTS, type Point, pressed } from "./gesture";
import { extend, straighten } from "./shaping";
import { straightLine } from "./straight";

const state = useDeskState.getState;

/** Set the source, or lay a stroke of a touch-up brush. */
export function touchingUp(ground: Ground, down: PointerEvent): Gesture | null {
  const { drawing, viewer, onPicture, sourceStill, touch } = ground;
  const { size, softness, tool, sourcing, strength, set } = state();
  const at = onPicture(down);
  if (sourcing) {
    set({ source: { at, to: null }, sourcing: false });
    return null;
  }
  if (!isTouch(tool) || (tool === "clone" && !state().source)) return null;
  const line = straightLine(ground, down);
  const begun = (points: Point[]): Laid => {
    const first = points[0] ?? at;
    const source = sourceAt(state(), first);
    return {
      brush: tool,
      stroke: { kind: "stroke", points, size, softness, erase: false, ...pressed(down, points.length) },
      source,
      strength,
      still: (source && sourceStill(copiedFrom(source, first))) ?? {
        picture: viewer.looks.still(),
        at: scaled(viewer.camera.placing()),
      },
      revision: null,
    };
  };
  drawing.laid = begun(line ? line(down) : [at]);
  return {
    move: (event) => {
      if (!drawing.laid) return;
      if (!line) return extend(ground, drawing.laid.stroke, event);
      const points = line(event);
      // A drag begins elsewhere than where the last stroke ended, and so copies from elsewhere.
      if (points[0] !== drawing.laid.stroke.points[0]) drawing.laid = begun(points);
      straighten(drawing.laid.stroke, points, event);
    },
    end: (whole) => {
      const { laid } = drawing;
      drawing.laid = null;
      if (!laid || !whole) return;
      drawing.ended = (laid.stroke.points as Point[]).at(-1) ?? null;
      // The same object: what was drawn of it is known by it.
      cutShort(laid.stroke, MOST_POINTS);
      touch(laid);
    },
    drop: () => {
      drawing.laid = null;
    },
  };
}

function scaled({ x, y, scale }: Placing): Placing {
  const density = window.devicePixelRatio;
  return { x: x * density, y: y * density, scale: scale * density };
}
