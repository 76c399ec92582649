import { type RefObject, useEffect } from "react";
import type { Drawable } from "../../api/client";
import { LARGEST, SMALLEST } from "../reading/brush";
import { useDeskState } from "../state/state";
import { BY_KEYS, keyHand } from "./keyHand";
import type { Pieces } from "./pieces";
import { cutShort, cutTo, type Placing } from "./shapes";
import { copiedFrom, isTouch, type Laid, sourceAt } from "./touching";
import type { Under } from "./under";
import type { PictureViewer } from "./viewer";

export type Hand = {
  viewer: PictureViewer;
  pieces: Pieces;
  under: Under;
  draw: (shape: Drawable) => void;
  take: (pieces: number[], erase: boolean) => void;
  touch: (laid: Laid) => void;
  sourceStill: (point: Point) => Laid["still"] | null;
  redraw: () => void;
};
type Point = [number, number];
/** What is being drawn: a shape, corners set one by one, pieces stroked over; and where the pointer is. */
export type Drawing = {
  shape: Drawable | null;
  /** A stroke of a touch-up brush; its points grow as those of a shape. */
  laid: Laid | null;
  corners: Point[];
  pieces: Set<number>;
  pointer: { x: number; y: number } | null;
};

/** How many points the server takes of one shape. */
const MOST_POINTS = 20_000;
/** How near to the first corner a click closes the line, in screen pixels. */
const CLOSE = 10;
/** How near to the line between two takes it is taken hold of, in screen pixels. */
const GRIP = 9;

/** Pointer, wheel and pinch over the picture. Shapes are drawn as they are made; the server hears at their end. */
export function useHand(layer: RefObject<HTMLCanvasElement | null>, drawing: Drawing, hand: Hand | null) {
  useEffect(() => {
    const canvas = layer.current;
    if (!canvas || !hand) return;
    const { viewer, pieces, under, redraw } = hand;
    const state = useDeskState.getState;
    const fingers = new Map<number, { x: number; y: number }>();
    let dragging: { x: number; y: number } | null = null;
    let sizing: { x: number; size: number } | null = null;
    let stroking = false;
    /** The corner that the pointer which is down has set. */
    let cornered: Point | null = null;
    let lining = false;
    let pen = false;

    /** Whether the pointer is on the line between two takes. */
    const nearLine = (event: PointerEvent) => {
      const { compare, line } = state();
      return compare === "split" && Math.abs(place(event).x - line * canvas.clientWidth) <= GRIP;
    };
    const place = (event: PointerEvent | WheelEvent) => {
      const edge = canvas.getBoundingClientRect();
      return { x: event.clientX - edge.left, y: event.clientY - edge.top };
    };
    const onPicture = (event: PointerEvent): Point => {
      const { x, y, scale } = viewer.placing();
      const at = place(event);
      const round = (value: number) => Math.round(value * 100) / 100;
      return [round((at.x - x) / scale), round((at.y - y) / scale)];
    };
    const away = () => state().erase !== state().flipped;
    const finish = (shape: Drawable) => {
      if (shape.kind === "outline" && shape.points.length < 3) return;
      hand.draw(cutTo(shape, MOST_POINTS));
    };
    const closeCorners = () => {
      const points = drawing.corners;
      drawing.corners = [];
      if (points.length >= 3) finish({ kind: "outline", points, erase: away() });
      redraw();
    };
    const corner = (event: PointerEvent) => {
      const at = onPicture(event);
      const [first] = drawing.corners;
      const reach = CLOSE / viewer.placing().scale;
      const closes = first && Math.hypot(at[0] - first[0], at[1] - first[1]) <= reach;
      if (drawing.corners.length >= 3 && (closes || event.detail > 1)) closeCorners();
      else if (!closes) {
        drawing.corners.push(at);
        cornered = at;
      }
    };

    /** What a first finger began before a second one came down was no mark but half a pinch. */
    const dropBegun = () => {
      drawing.shape = drawing.laid = dragging = sizing = null;
      drawing.pieces = new Set();
      if (cornered && drawing.corners.at(-1) === cornered) drawing.corners.pop();
      stroking = lining = false;
      cornered = null;
      redraw();
    };
    /** With Cling a resting brush shows what a click would take. */
    const rest = (event: PointerEvent) => {
      const { tool, cling, guarding, size } = state();
      if (tool === "brush" && cling && !guarding && !away()) {
        under.rest(onPicture(event), size);
      } else under.leave();
    };
    const down = (event: PointerEvent) => {
      under.leave();
      // While a pen writes, the hand that holds it rests on the screen.
      if (event.pointerType === "touch" && pen) return;
      if (event.pointerType === "pen") pen = true;
      if (event.pointerId !== BY_KEYS) canvas.setPointerCapture(event.pointerId);
      if (event.pointerType === "touch") fingers.set(event.pointerId, place(event));
      if (fingers.size === 2) {
        dropBegun();
        return;
      }
      if (event.button === 1 || state().hand) {
        dragging = place(event);
        canvas.style.cursor = "grabbing";
        return;
      }
      if (event.button !== 0 || state().asShot) return;
      const { size, softness, tool } = state();
      if (nearLine(event)) {
        lining = true;
      } else if (state().sizing) {
        sizing = { x: place(event).x, size };
      } else if (isTouch(tool)) {
        touchDown(event);
      } else if (tool === "brush") {
        const pressure = event.pointerType === "pen" ? { pressure: [event.pressure] } : {};
        drawing.shape = {
          kind: "stroke",
          points: [onPicture(event)],
          size,
          softness,
          erase: away(),
          ...pressure,
        };
      } else if (tool === "corners") {
        corner(event);
      } else if (tool === "pieces") {
        stroking = true;
        drawing.pieces = new Set();
        touch(event);
      } else {
        drawing.shape = { kind: "outline", points: [onPicture(event)], erase: away() };
      }
      redraw();
    };
    /** Set the source, or begin a stroke of a touch-up brush. */
    const touchDown = (event: PointerEvent) => {
      const { size, softness, tool, sourcing, strength, set } = state();
      const at = onPicture(event);
      if (sourcing) {
        set({ source: { at, to: null }, sourcing: false });
        return;
      }
      if (!isTouch(tool) || (tool === "clone" && !state().source)) return;
      const pressure = event.pointerType === "pen" ? { pressure: [event.pressure] } : {};
      const source = sourceAt(state(), at);
      drawing.laid = {
        brush: tool,
        stroke: { kind: "stroke", points: [at], size, softness, erase: false, ...pressure },
        source,
        strength,
        still: (source && hand.sourceStill(copiedFrom(source, at))) ?? {
          picture: viewer.still(),
          at: scaled(viewer.placing()),
        },
        revision: null,
      };
    };
    const scaled = ({ x, y, scale }: Placing): Placing => {
      const density = window.devicePixelRatio;
      return { x: x * density, y: y * density, scale: scale * density };
    };
    const touch = (event: PointerEvent) => {
      const piece = pieces.at(...onPicture(event));
      if (piece !== null) drawing.pieces.add(piece);
    };
    const move = (event: PointerEvent) => {
      if (event.pointerType === "touch" && pen) return;
      const at = place(event);
      drawing.pointer = at;
      if (fingers.size === 2 && fingers.has(event.pointerId)) {
        pinch(event.pointerId, at);
      } else if (dragging) {
        viewer.panBy(at.x - dragging.x, at.y - dragging.y);
        dragging = at;
      } else if (lining) {
        state().set({ line: Math.min(1, Math.max(0, at.x / canvas.clientWidth)) });
      } else if (sizing) {
        const size = sizing.size + ((at.x - sizing.x) * 2) / viewer.placing().scale;
        state().set({ size: Math.round(Math.min(LARGEST, Math.max(SMALLEST, size))) });
      } else if (stroking) {
        touch(event);
      } else if (drawing.laid) {
        extend(drawing.laid.stroke, event);
      } else if (drawing.shape) {
        extend(drawing.shape, event);
      } else if (event.pointerId !== BY_KEYS) {
        rest(event);
      }
      redraw();
    };
    const extend = (shape: Drawable, event: PointerEvent) => {
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
      if (event.pointerType === "touch" && pen) return;
      if (event.pointerType === "pen") pen = false;
      fingers.delete(event.pointerId);
      dragging = sizing = cornered = null;
      lining = false;
      canvas.style.cursor = "";
      const whole = event.type === "pointerup";
      const { shape } = drawing;
      drawing.shape = null;
      if (shape && whole) finish(shape);
      const { laid } = drawing;
      drawing.laid = null;
      if (laid && whole) {
        // The same object: what was drawn of it is known by it.
        cutShort(laid.stroke, MOST_POINTS);
        hand.touch(laid);
      }
      if (stroking && whole && drawing.pieces.size) hand.take([...drawing.pieces], away());
      if (stroking) drawing.pieces = new Set();
      stroking = false;
      redraw();
    };
    const leave = () => {
      under.leave();
      drawing.pointer = null;
      redraw();
    };
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      // A pinch on a trackpad comes as a wheel with the control key down.
      viewer.zoomBy(Math.exp(-event.deltaY * (event.ctrlKey ? 0.01 : 0.0018)), place(event));
    };
    /** Corners are ended, taken back or dropped by key, before the desk's own keys see them. */
    const key = (event: KeyboardEvent) => {
      if (!drawing.corners.length) return;
      if (event.key === "Enter") closeCorners();
      else if (event.key === "Backspace") drawing.corners.pop();
      else if (event.key === "Escape") drawing.corners = [];
      else return;
      event.preventDefault();
      event.stopImmediatePropagation();
      redraw();
    };
    canvas.addEventListener("pointerdown", down);
    canvas.addEventListener("pointermove", move);
    canvas.addEventListener("pointerup", up);
    canvas.addEventListener("pointercancel", up);
    canvas.addEventListener("pointerleave", leave);
    canvas.addEventListener("wheel", wheel, { passive: false });
    window.addEventListener("keydown", key, { capture: true });
    const noKeys = keyHand(canvas, {
      ...{ down, move, up, viewer, leave },
      brush: () => state().size * viewer.placing().scale,
      tell: (at, isDown) => {
        const { x, y, scale } = viewer.placing();
        state().set({
          brushAt: { x: Math.round((at.x - x) / scale), y: Math.round((at.y - y) / scale), isDown },
        });
      },
    });
    return () => {
      noKeys();
      canvas.removeEventListener("pointerdown", down);
      canvas.removeEventListener("pointermove", move);
      canvas.removeEventListener("pointerup", up);
      canvas.removeEventListener("pointercancel", up);
      canvas.removeEventListener("pointerleave", leave);
      canvas.removeEventListener("wheel", wheel);
      window.removeEventListener("keydown", key, { capture: true });
    };
  }, [layer, drawing, hand]);
}
