import { LARGEST, SMALLEST } from "../../reading/brush";
import { useDeskState } from "../../state/state";
import type { Gesture, Ground } from "./gesture";

const state = useDeskState.getState;
/** How near to the line between two takes it is taken hold of, in screen pixels. */
const GRIP = 9;

/** Take the picture along. */
export function panning({ canvas, viewer, place }: Ground, down: PointerEvent): Gesture {
  let from = place(down);
  canvas.style.cursor = "grabbing";
  return {
    move: (event) => {
      const at = place(event);
      viewer.camera.panBy(at.x - from.x, at.y - from.y);
      from = at;
    },
  };
}

/** Whether a pointer is on the line between two takes. */
export function nearLine({ canvas, place }: Ground, event: PointerEvent): boolean {
  const { compare, line } = state();
  return compare === "split" && Math.abs(place(event).x - line * canvas.clientWidth) <= GRIP;
}

/** Move the line between two takes. */
export function lining({ canvas, place }: Ground): Gesture {
  return {
    move: (event) => state().set({ line: Math.min(1, Math.max(0, place(event).x / canvas.clientWidth)) }),
  };
}

/** Make the brush wider or narrower, sideways. */
export function sizing({ viewer, place }: Ground, down: PointerEvent): Gesture {
  const from = { x: place(down).x, size: state().size };
  return {
    move: (event) => {
      const size = from.size + ((place(event).x - from.x) * 2) / viewer.camera.placing().scale;
      state().set({ size: Math.round(Math.min(LARGEST, Math.max(SMALLEST, size))) });
    },
  };
}
