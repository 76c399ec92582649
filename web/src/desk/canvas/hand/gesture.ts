import type { Drawable } from "../../../api/client";
import { useDeskState } from "../../state/state";
import type { Pieces } from "../pieces";
import type { Laid } from "../touching";
import type { Under } from "../under";
import type { PictureViewer } from "../viewer";

export type Point = [number, number];
export type Spot = { x: number; y: number };

/** What is done with what a hand made. */
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

/** What is being drawn: a shape, corners set one by one, pieces stroked over; and where the pointer is. */
export type Drawing = {
  shape: Drawable | null;
  /** A stroke of a touch-up brush; its points grow as those of a shape. */
  laid: Laid | null;
  corners: Point[];
  pieces: Set<number>;
  pointer: Spot | null;
  /** Where the last stroke ended, in pixels of the picture. */
  ended: Point | null;
};

/** What gestures stand on: the canvas, what is drawn on it, and where an event lies. */
export type Ground = Hand & {
  canvas: HTMLCanvasElement;
  drawing: Drawing;
  /** In CSS pixels of the canvas. */
  place: (event: PointerEvent | WheelEvent) => Spot;
  /** In pixels of the picture. */
  onPicture: (event: PointerEvent) => Point;
};

/** What a pointer does from coming down to lifting; what its coming down does is done where it is made. */
export type Gesture = {
  move?: (event: PointerEvent) => void;
  /** It lifted, or was cut off before it was whole. */
  end?: (whole: boolean) => void;
  /** A second finger came down: what the first one began was no mark but half a pinch. */
  drop?: () => void;
};

/** How many points the server takes of one shape. */
export const MOST_POINTS = 20_000;

/** Whether what is drawn takes away. */
export function takesAway(): boolean {
  const { erase, flipped } = useDeskState.getState();
  return erase !== flipped;
}

/** How hard a pen is pressed, for each of some points. */
export function pressed(event: PointerEvent, points = 1): { pressure?: number[] } {
  return event.pointerType === "pen" ? { pressure: Array<number>(points).fill(event.pressure) } : {};
}
