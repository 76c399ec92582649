import { useDeskState } from "../../state/state";
import { cutShort, type Placing } from "../shapes";
import { copiedFrom, isTouch, sourceAt } from "../touching";
import { type Gesture, type Ground, MOST_POINTS, pressed } from "./gesture";
import { extend } from "./shaping";

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
  const source = sourceAt(state(), at);
  drawing.laid = {
    brush: tool,
    stroke: { kind: "stroke", points: [at], size, softness, erase: false, ...pressed(down) },
    source,
    strength,
    still: (source && sourceStill(copiedFrom(source, at))) ?? {
      picture: viewer.still(),
      at: scaled(viewer.placing()),
    },
    revision: null,
  };
  return {
    move: (event) => drawing.laid && extend(ground, drawing.laid.stroke, event),
    end: (whole) => {
      const { laid } = drawing;
      drawing.laid = null;
      if (!laid || !whole) return;
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
