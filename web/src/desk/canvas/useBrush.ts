import { type RefObject, useEffect } from "react";
import type { Stroke } from "../../api/client";
import { useDeskState } from "../state";
import type { PictureViewer } from "./viewer";

type Hand = { viewer: PictureViewer; paint: (stroke: Stroke) => void; redraw: () => void };
export type Drawing = { stroke: Stroke | null; pointer: { x: number; y: number } | null };

/** Pointer, wheel and pinch over the picture. Strokes are drawn as they are made; the server hears at their end. */
export function useBrush(layer: RefObject<HTMLCanvasElement | null>, drawing: Drawing, hand: Hand | null) {
  useEffect(() => {
    const canvas = layer.current;
    if (!canvas || !hand) return;
    const { viewer, paint, redraw } = hand;
    const state = useDeskState.getState;
    const fingers = new Map<number, { x: number; y: number }>();
    let dragging: { x: number; y: number } | null = null;

    const place = (event: PointerEvent | WheelEvent) => {
      const edge = canvas.getBoundingClientRect();
      return { x: event.clientX - edge.left, y: event.clientY - edge.top };
    };
    const onPicture = (event: PointerEvent): [number, number] => {
      const { x, y, scale } = viewer.placing();
      const at = place(event);
      const round = (value: number) => Math.round(value * 100) / 100;
      return [round((at.x - x) / scale), round((at.y - y) / scale)];
    };
    const down = (event: PointerEvent) => {
      canvas.setPointerCapture(event.pointerId);
      if (event.pointerType === "touch") fingers.set(event.pointerId, place(event));
      if (fingers.size === 2) {
        drawing.stroke = null;
        return;
      }
      if (event.button === 1 || state().hand) {
        dragging = place(event);
        canvas.style.cursor = "grabbing";
        return;
      }
      if (event.button !== 0 || state().asShot) return;
      const { size, softness, erase, flipped } = state();
      drawing.stroke = { points: [onPicture(event)], size, softness, erase: erase !== flipped };
      redraw();
    };
    const move = (event: PointerEvent) => {
      const at = place(event);
      drawing.pointer = at;
      if (fingers.size === 2 && fingers.has(event.pointerId)) {
        pinch(event.pointerId, at);
      } else if (dragging) {
        viewer.panBy(at.x - dragging.x, at.y - dragging.y);
        dragging = at;
      } else if (drawing.stroke) {
        const points = drawing.stroke.points;
        for (const each of event.getCoalescedEvents?.() ?? [event]) {
          const next = onPicture(each);
          const last = points.at(-1);
          if (
            !last ||
            Math.hypot(next[0] - last[0], next[1] - last[1]) >= Math.max(0.5, drawing.stroke.size * 0.02)
          ) {
            points.push(next);
          }
        }
      }
      redraw();
    };
    const pinch = (moved: number, at: { x: number; y: number }) => {
      const other = [...fingers].find(([id]) => id !== moved)?.[1];
      const before = fingers.get(moved);
      if (!other || !before) return;
      const spread = (p: { x: number; y: number }) => Math.hypot(p.x - other.x, p.y - other.y);
      const middle = { x: (at.x + other.x) / 2, y: (at.y + other.y) / 2 };
      viewer.zoomBy(spread(at) / Math.max(spread(before), 1), middle);
      viewer.panBy((at.x - before.x) / 2, (at.y - before.y) / 2);
      fingers.set(moved, at);
    };
    const up = (event: PointerEvent) => {
      fingers.delete(event.pointerId);
      dragging = null;
      canvas.style.cursor = "";
      const stroke = drawing.stroke;
      drawing.stroke = null;
      if (stroke && event.type === "pointerup") paint({ ...stroke, points: stroke.points.slice(0, 20_000) });
      redraw();
    };
    const leave = () => {
      drawing.pointer = null;
      redraw();
    };
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      // A pinch on a trackpad comes as a wheel with the control key down.
      viewer.zoomBy(Math.exp(-event.deltaY * (event.ctrlKey ? 0.01 : 0.0018)), place(event));
    };
    canvas.addEventListener("pointerdown", down);
    canvas.addEventListener("pointermove", move);
    canvas.addEventListener("pointerup", up);
    canvas.addEventListener("pointercancel", up);
    canvas.addEventListener("pointerleave", leave);
    canvas.addEventListener("wheel", wheel, { passive: false });
    return () => {
      canvas.removeEventListener("pointerdown", down);
      canvas.removeEventListener("pointermove", move);
      canvas.removeEventListener("pointerup", up);
      canvas.removeEventListener("pointercancel", up);
      canvas.removeEventListener("pointerleave", leave);
      canvas.removeEventListener("wheel", wheel);
    };
  }, [layer, drawing, hand]);
}
