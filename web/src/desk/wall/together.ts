import type { Place } from "../canvas/camera";
import type { PictureViewer } from "../canvas/viewer";

type Area = { x: number; y: number; width: number; height: number };

/** Views of one picture that all show the same place at the same zoom. */
export class Together {
  private views = new Map<number, PictureViewer>();
  private place: Place | null = null;
  private wanted: Area | null = null;
  /** The one that the pointer is over, or the first: all others follow, and tell nobody. */
  private ahead: number | null = null;

  /** Begin at the place of another view if it was near; else where a box is. */
  start(under: PictureViewer | null, box: Area) {
    const place = under?.camera.place() ?? null;
    this.place = place && !under?.camera.isFitted() ? place : null;
    this.wanted = box.width > 0 ? box : null;
    for (const view of this.views.values()) this.put(view);
  }

  /** Give the place back to the view under the wall if that was looked at from nearer than there; what hangs small on a wall
   * would be a small picture in a large room. */
  giveBack(under: PictureViewer | null) {
    const own = under?.camera.place();
    if (own && this.place && this.place.scale > own.scale) under?.camera.goTo(this.place);
  }

  join(take: number, view: PictureViewer | null) {
    if (!view) {
      this.views.delete(take);
      if (this.ahead === take) this.ahead = null;
    } else {
      this.views.set(take, view);
      view.whenOpen(() => this.put(view));
    }
  }

  /** The view that leads. */
  leader(): PictureViewer | null {
    return (this.ahead !== null && this.views.get(this.ahead)) || (this.views.values().next().value ?? null);
  }

  /** From now on this one leads. */
  lead(take: number) {
    this.ahead = take;
  }

  /** All go where the leader went. */
  follow(take: number) {
    const leader = this.leader();
    if (!leader || this.views.get(take) !== leader) return;
    this.place = leader.camera.place();
    for (const view of this.views.values()) if (view !== leader && this.place) view.camera.goTo(this.place);
  }

  /** Go where a box fills the views. */
  visit(box: Area) {
    this.leader()?.camera.visit(box);
  }

  private put(view: PictureViewer) {
    if (this.place) view.camera.goTo(this.place);
    else if (this.wanted) view.camera.visit(this.wanted, true);
  }
}
