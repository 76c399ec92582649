import { useDeskState } from "../../state/state";
import type { PictureViewer } from "../viewer";
import { begin } from "./begin";
import { type Gesture, type Ground, type Spot, takesAway } from "./gesture";
import { BY_KEYS } from "./keyHand";

/** The pointers that are over the picture: one draws, two fingers pinch, and the hand that holds a pen is none. */
export function pointersOf(ground: Ground) {
  const { canvas, viewer, under, drawing, place, onPicture, redraw } = ground;
  const fingers = new Map<number, Spot>();
  let gesture: Gesture | null = null;
  let pen = false;

  const down = (event: PointerEvent) => {
    under.leave();
    // While a pen writes, the hand that holds it rests on the screen.
    if (event.pointerType === "touch" && pen) return;
    if (event.pointerType === "pen") {
      pen = true;
      // Whatever touched before the pen came is that hand: it draws nothing and holds nothing.
      fingers.clear();
      gesture?.drop?.();
      gesture = null;
    }
    if (event.pointerId !== BY_KEYS) canvas.setPointerCapture(event.pointerId);
    if (event.pointerType === "touch") fingers.set(event.pointerId, place(event));
    if (fingers.size > 1) {
      gesture?.drop?.();
      gesture = null;
    } else gesture = begin(ground, event);
    viewer.camera.hold();
    redraw();
  };
  const move = (event: PointerEvent) => {
    if (event.pointerType === "touch" && pen) return;
    const at = place(event);
    drawing.pointer = at;
    viewer.pointed = onPicture(event);
    if (fingers.size === 2 && fingers.has(event.pointerId)) pinch(viewer, fingers, event.pointerId, at);
    else if (gesture) gesture.move?.(event);
    else if (event.pointerId !== BY_KEYS) rest(ground, event);
    redraw();
  };
  const up = (event: PointerEvent) => {
    fingers.delete(event.pointerId);
    if (event.pointerType === "touch" && pen) return;
    if (event.pointerType === "pen") pen = false;
    canvas.style.cursor = "";
    const ended = gesture;
    gesture = null;
    ended?.end?.(event.type === "pointerup");
    if (!fingers.size) viewer.camera.release();
    redraw();
  };
  const leave = () => {
    under.leave();
    drawing.pointer = null;
    viewer.pointed = null;
    redraw();
  };
  return { down, move, up, leave };
}

/** With Cling a resting brush shows what a click would take. */
function rest({ under, onPicture }: Ground, event: PointerEvent) {
  const { tool, cling, guarding, size } = useDeskState.getState();
  if (tool === "brush" && cling && !guarding && !takesAway()) under.rest(onPicture(event), size);
  else under.leave();
}

/** One of two fingers moved: the picture grows with how far they are apart, and follows their middle. */
function pinch(viewer: PictureViewer, fingers: Map<number, Spot>, moved: number, at: Spot) {
  const other = [...fingers].find(([id]) => id !== moved)?.[1];
  const before = fingers.get(moved);
  if (!other || !before) return;
  const spread = (p: Spot) => Math.hypot(p.x - other.x, p.y - other.y);
  const middle = { x: (at.x + other.x) / 2, y: (at.y + other.y) / 2 };
  viewer.camera.zoomBy(spread(at) / Math.max(spread(before), 1), middle);
  viewer.camera.panBy((at.x - before.x) / 2, (at.y - before.y) / 2);
  fingers.set(moved, at);
}
