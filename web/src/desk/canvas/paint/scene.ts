import type { Desk } from "../../../api/client";
import type { FirstLooks } from "../firstLooks";
import type { Drawing } from "../hand/gesture";
import type { Masks } from "../masks";
import type { Placing } from "../shapes";

/** What is painted over the picture: where, and what of. */
export type Scene = {
  ctx: CanvasRenderingContext2D;
  at: Placing;
  density: number;
  desk: Desk;
  masks: Masks;
  drawing: Drawing;
  firstLooks: FirstLooks;
};
