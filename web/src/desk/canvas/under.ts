import { api, ask } from "../../api/client";
import { type MaskPath, maskPath } from "./shapes";

/** How long a pointer rests before it is asked what is under it, ms; it rests while it stays within half a brush. */
const REST = 300;
type Point = [number, number];

/** What one click takes with Cling, shown before it is made: asked for where the pointer rests. */
export class Under {
  path: MaskPath | null = null;
  private at: Point | null = null;
  private timer = 0;
  private turn = 0;

  constructor(
    private frame: number,
    private onChange: () => void,
  ) {}

  /** The pointer is at a place of the picture, with a brush of a size in its pixels. */
  rest(at: Point, size: number) {
    if (this.at && Math.hypot(at[0] - this.at[0], at[1] - this.at[1]) <= size / 2) return;
    this.leave();
    this.at = at;
    this.timer = window.setTimeout(() => this.ask(at, size, this.turn), REST);
  }

  /** Nothing is pointed at any more. */
  leave() {
    clearTimeout(this.timer);
    this.turn++;
    this.at = null;
    this.path = null;
  }

  private async ask([x, y]: Point, size: number, turn: number) {
    const where = { params: { path: { frame_id: this.frame }, query: { x, y, size } } };
    // Off the picture nothing is shown; nor what is no longer wanted.
    const found = await ask(api.GET("/api/frames/{frame_id}/under", where)).catch(() => null);
    if (!found || turn !== this.turn) return;
    this.path = maskPath(found.rings);
    this.onChange();
  }
}
