import OpenSeadragon from "openseadragon";
import { useDeskState } from "../state/state";
import type { Picture } from "./picture";

/** The middle of the view in picture pixels, and CSS pixels per picture pixel. */
export type Place = { x: number; y: number; scale: number };
type Area = { x: number; y: number; width: number; height: number };
/** Share of the view that a visited place takes at most, and its largest zoom. */
const ROOM = 0.5;
const LARGEST = 1;
/** Smaller places are zoomed in on, share of the view. */
const TOO_SMALL = 0.08;

/** Time the page takes to settle after the window or a panel was changed, ms. */
const SETTLE_MS = 500;

/** What a hand changes of the room of the picture: the window, and the panels round it. */
function panelsNow(): string {
  const { folded, sheetWide, sheetFolded, trayTall, trayFolded, strip } = useDeskState.getState();
  const { innerWidth, innerHeight } = window;
  return [innerWidth, innerHeight, folded, sheetWide, sheetFolded, trayTall, trayFolded, strip].join(" ");
}

/** Where the picture lies in the view: zoom, position, and what keeps it in place. */
export class Camera {
  private fitted = true;
  /** Whether a hand is at work on the picture, and whether the window or a panel changed meanwhile. */
  private held = false;
  private late = false;
  /** Whether a hand has been on the picture: before that the page may still be laid out, however long it takes. */
  private touched = false;
  /** The size of the window and of the panels, and when it changed last: only then a fitted picture is fitted anew. */
  private panels = panelsNow();
  private changedAt = performance.now();
  private size: OpenSeadragon.Point;

  constructor(
    private osd: OpenSeadragon.Viewer,
    private picture: Picture,
  ) {
    // The library keeps the middle and the zoom right after it says so: only then can the view go elsewhere.
    osd.addHandler("after-resize", () => {
      const before = this.size;
      this.size = osd.viewport.getContainerSize();
      queueMicrotask(() => this.resized(before));
    });
    this.size = osd.viewport.getContainerSize();
    // A page that is still being laid out is fitted to.
    osd.addOnceHandler("open", () => {
      this.changedAt = performance.now();
    });
  }

  /** A picture that was fitted into its room is fitted anew when somebody changes the window or a panel, and before a
   * hand was on it. Whatever else comes or goes beside it, it stays where it is: the next stroke must not land
   * elsewhere. */
  private resized(before: OpenSeadragon.Point) {
    const { viewport } = this.osd;
    if (!viewport) return;
    const panels = panelsNow();
    if (panels !== this.panels) this.changedAt = performance.now();
    this.panels = panels;
    const mayFit = !this.touched || performance.now() - this.changedAt < SETTLE_MS;
    if (mayFit && this.fitted && !this.held) return viewport.goHome(true);
    this.late ||= mayFit && this.held;
    viewport.panBy(viewport.deltaPointsFromPixels(this.size.minus(before).divide(2)), true);
  }

  /** From now on a hand is at work: whatever comes or goes beside the picture does not move it. */
  hold() {
    this.held = true;
    this.touched = true;
  }

  /** The hand lifted. */
  release() {
    this.held = false;
    if (this.fitted && this.late) this.osd.viewport?.goHome(true);
    this.late = false;
  }

  /** Screen pixels for one picture pixel; 1 is 100 %, whatever the density of the screen. */
  zoom(): number {
    const placing = this.placing();
    return placing.scale * window.devicePixelRatio;
  }

  /** Where the picture lies in the view, in CSS pixels. */
  placing() {
    const viewport = this.osd.viewport;
    const corner = viewport.pixelFromPoint(new OpenSeadragon.Point(0, 0), true);
    const next = viewport.pixelFromPoint(new OpenSeadragon.Point(1, 0), true);
    return { x: corner.x, y: corner.y, scale: (next.x - corner.x) / this.picture.width };
  }

  fit() {
    if (!this.fitted) this.left = this.place();
    this.fitted = true;
    this.osd.viewport.goHome(false);
  }

  /** Whether all of the picture is in view because that was asked for. */
  isFitted(): boolean {
    return this.fitted;
  }

  /** Moved by hand. */
  unfit() {
    this.fitted = false;
  }

  /** Where the view is; null before there is a picture. */
  place(): Place | null {
    if (!this.osd.viewport || !this.osd.world.getItemCount()) return null;
    const { x, y, scale } = this.placing();
    const size = this.osd.viewport.getContainerSize();
    return { x: (size.x / 2 - x) / scale, y: (size.y / 2 - y) / scale, scale };
  }

  /** Be at a place, at once. */
  goTo({ x, y, scale }: Place) {
    this.fitted = false;
    const viewport = this.osd.viewport;
    const w = this.picture.width;
    viewport.zoomTo((scale * w) / viewport.getContainerSize().x, undefined, true);
    viewport.panTo(new OpenSeadragon.Point(x / w, y / w), true);
  }

  /** Where the view was before it was taken somewhere. */
  private left: Place | null = null;

  /** Back to where the view was before it was taken somewhere. */
  back() {
    const here = this.fitted ? null : this.place();
    if (this.left) this.goTo(this.left);
    else this.fit();
    this.left = here;
  }

  /** Full size, or another: where the view is; after all of the picture was in view, where it was before, or at a box. */
  zoomNear(ratio: number, box: Area | null) {
    if (this.fitted) {
      if (box) return this.visit(box, false, ratio);
      if (this.left) this.goTo(this.left);
    }
    this.zoomTo(ratio);
  }

  /** Zoom so that one picture pixel takes ratio screen pixels, round a point of the view or its middle. */
  zoomTo(ratio: number, round?: { x: number; y: number }) {
    const viewport = this.osd.viewport;
    const point = round ? viewport.pointFromPixel(new OpenSeadragon.Point(round.x, round.y)) : undefined;
    const target = (ratio * this.picture.width) / (window.devicePixelRatio * viewport.getContainerSize().x);
    viewport.zoomTo(target, point);
    viewport.applyConstraints();
    this.fitted = false;
    this.osd.addOnceHandler("animation-finish", () => this.alignToScreen());
  }

  /** At whole ratios a picture pixel must fall on screen pixels, or all of it is a little soft. */
  private alignToScreen() {
    const zoom = this.zoom();
    if (Math.abs(zoom - Math.round(zoom)) > 0.01 || zoom < 0.99) return;
    const { x, y } = this.placing();
    const density = window.devicePixelRatio;
    const dx = (Math.round(x * density) - x * density) / density;
    const dy = (Math.round(y * density) - y * density) / density;
    if (Math.abs(dx) + Math.abs(dy) < 0.01) return;
    const viewport = this.osd.viewport;
    viewport.panBy(viewport.deltaPointsFromPixels(new OpenSeadragon.Point(-dx, -dy)), true);
  }

  zoomBy(factor: number, round: { x: number; y: number }) {
    this.fitted = false;
    const viewport = this.osd.viewport;
    viewport.zoomBy(factor, viewport.pointFromPixel(new OpenSeadragon.Point(round.x, round.y)));
    viewport.applyConstraints();
  }

  panBy(dx: number, dy: number) {
    this.fitted = false;
    const viewport = this.osd.viewport;
    viewport.panBy(viewport.deltaPointsFromPixels(new OpenSeadragon.Point(-dx, -dy)), true);
    viewport.applyConstraints(true);
  }

  /** Bring a box of the picture into view unless it is there, and near enough to be judged. */
  reveal(box: Area) {
    const { x, y, scale } = this.placing();
    const size = this.osd.viewport.getContainerSize();
    if (Math.max((box.width * scale) / size.x, (box.height * scale) / size.y) < TOO_SMALL)
      return this.visit(box);
    const left = x + box.x * scale;
    const top = y + box.y * scale;
    const inside =
      left >= 0 && top >= 0 && left + box.width * scale <= size.x && top + box.height * scale <= size.y;
    if (inside) return;
    this.left = this.place();
    const w = this.picture.width;
    this.osd.viewport.panTo(
      new OpenSeadragon.Point((box.x + box.width / 2) / w, (box.y + box.height / 2) / w),
    );
    this.osd.viewport.applyConstraints();
  }

  /** Go to a place: as large as it fits with what is round it, at full size at most, or at a size that is asked for. */
  visit(box: Area, atOnce = false, ratio?: number) {
    this.left = this.fitted ? null : this.place();
    this.fitted = false;
    const viewport = this.osd.viewport;
    const size = viewport.getContainerSize();
    const w = this.picture.width;
    const density = window.devicePixelRatio;
    const fits = ROOM * density * Math.min(size.x / box.width, size.y / box.height);
    const whole = density * Math.min(size.x / w, size.y / this.picture.height);
    const wanted = ratio ?? Math.max(Math.min(fits, LARGEST), Math.min(whole, LARGEST));
    const middle = { x: box.x + box.width / 2, y: box.y + box.height / 2 };
    if (atOnce) return this.goTo({ ...middle, scale: wanted / density });
    viewport.panTo(new OpenSeadragon.Point(middle.x / w, middle.y / w), true);
    this.zoomTo(wanted);
  }
}
