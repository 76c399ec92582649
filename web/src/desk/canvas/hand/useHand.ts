import { type RefObject, useEffect } from "react";
import { useDeskState } from "../../state/state";
import type { PictureViewer } from "../viewer";
import { cornerKey } from "./corners";
import type { Drawing, Ground, Hand, Spot } from "./gesture";
import { keyHand } from "./keyHand";
import { pointersOf } from "./pointers";

/** Pointer, wheel, pinch and keys over the picture. Shapes are drawn as they are made; the server hears at their end. */
export function useHand(layer: RefObject<HTMLCanvasElement | null>, drawing: Drawing, hand: Hand | null) {
  useEffect(() => {
    const canvas = layer.current;
    if (!canvas || !hand) return;
    const ground = groundOf(canvas, drawing, hand);
    const { down, move, up, leave } = pointersOf(ground);
    const ends = new AbortController();
    const heard = { signal: ends.signal };
    canvas.addEventListener("pointerdown", down, heard);
    canvas.addEventListener("pointermove", move, heard);
    canvas.addEventListener("pointerup", up, heard);
    canvas.addEventListener("pointercancel", up, heard);
    canvas.addEventListener("pointerleave", leave, heard);
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      // A pinch on a trackpad comes as a wheel with the control key down.
      hand.viewer.camera.zoomBy(
        Math.exp(-event.deltaY * (event.ctrlKey ? 0.01 : 0.0018)),
        ground.place(event),
      );
    };
    canvas.addEventListener("wheel", wheel, { ...heard, passive: false });
    // Before the desk's own keys see them.
    const key = (event: KeyboardEvent) => {
      if (!cornerKey(ground, event.key)) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      hand.redraw();
    };
    window.addEventListener("keydown", key, { ...heard, capture: true });
    const noKeys = keyHand(canvas, {
      ...{ down, move, up, leave, viewer: hand.viewer },
      brush: () => useDeskState.getState().size * hand.viewer.camera.placing().scale,
      tell: (at, isDown) => tellBrush(hand.viewer, at, isDown),
    });
    return () => {
      noKeys();
      ends.abort();
    };
  }, [layer, drawing, hand]);
}

function groundOf(canvas: HTMLCanvasElement, drawing: Drawing, hand: Hand): Ground {
  const place = (event: PointerEvent | WheelEvent): Spot => {
    const edge = canvas.getBoundingClientRect();
    return { x: event.clientX - edge.left, y: event.clientY - edge.top };
  };
  return {
    ...hand,
    canvas,
    drawing,
    place,
    onPicture: (event) => {
      const { x, y, scale } = hand.viewer.camera.placing();
      const at = place(event);
      const round = (value: number) => Math.round(value * 100) / 100;
      return [round((at.x - x) / scale), round((at.y - y) / scale)];
    },
  };
}

/** Where the brush is that keys move, for whoever cannot see it. */
function tellBrush(viewer: PictureViewer, at: Spot, isDown: boolean) {
  const { x, y, scale } = viewer.camera.placing();
  const brushAt = { x: Math.round((at.x - x) / scale), y: Math.round((at.y - y) / scale), isDown };
  useDeskState.getState().set({ brushAt });
}
