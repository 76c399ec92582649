import OpenSeadragon from "openseadragon";
import { COLOURS } from "../../api/screen";
import { type Look, lookQuery, tileUrl } from "../../api/views";
import { useDeskState } from "../state/state";
import { DRAWER } from "./wideGamut";

const TILE = 512;
export type Picture = { id: number; width: number; height: number };
/** Where a view is: the middle of it in picture pixels, and CSS pixels for one of those. */
export type Place = { x: number; y: number; scale: number };
/** Of a view, the share that a place which is gone to takes at most; and as large it is at most and at least. */
const ROOM = 0.5;
const LARGEST = 1;
/** What is smaller than this share of the view is gone nearer to. */
const TOO_SMALL = 0.08;

/** How long the page takes to settle after the window or a panel was changed, ms. */
const SETTLE_MS = 500;

/** What a hand changes of the room of the picture: the window, and the panels round it. */
function panelsNow(): string {
  const { folded, sheetWide, sheetFolded, trayTall, trayFolded, strip } = useDeskState.getState();
  const { innerWidth, innerHeight } = window;
  return [innerWidth, innerHeight, folded, sheetWide, sheetFolded, trayTall, trayFolded, strip].join(" ");
}

function source(picture: Picture, look: Look): OpenSeadragon.TileSource {
  const deepest = Math.max(0, Math.ceil(Math.log2(Math.max(picture.width, picture.height) / TILE)));
  const options = {
    width: picture.width,
    height: picture.height,
    tileSize: TILE,
    minLevel: 0,
    maxLevel: deepest,
    getTileUrl: (level: number, x: number, y: number) => tileUrl(picture.id, look, deepest - level, x, y),
  };
  return new OpenSeadragon.TileSource(options as unknown as OpenSeadragon.TileSourceOptions);
}

type Area = { x: number; y: number; width: number; height: number };

/** The deep-zoom view of one picture, in which looks change in place without a flicker. */
export class PictureViewer {
  readonly osd: OpenSeadragon.Viewer;
  private items = new Map<string, OpenSeadragon.TiledImage | "coming">();
  private wanted = "";
  private look: Look | null = null;
  private ahead: Look[] = [];
  /** The place of the picture that the pointer is over, in its pixels. */
  pointed: [number, number] | null = null;
  /** Told whenever another look has come to the front. */
  onShown: (look: string) => void = () => undefined;
  /** A look that covers the left of the view, up to a share of its width. */
  private over: { key: string; line: number } | null = null;
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
    element: HTMLElement,
    private picture: Picture,
    onChange: () => void,
  ) {
    this.osd = new OpenSeadragon.Viewer({
      element,
      drawer: DRAWER,
      showNavigationControl: false,
      showSequenceControl: false,
      animationTime: 0.2,
      springStiffness: 12,
      blendTime: 0,
      alwaysBlend: false,
      immediateRender: true,
      minZoomImageRatio: 0.1,
      maxZoomPixelRatio: 16,
      visibilityRatio: 0.3,
      zoomPerScroll: 1.25,
      imageLoaderLimit: 16,
      maxImageCacheCount: 600,
      keyboardNavEnabled: false,
      // A room that grows shows more, at the same size.
      preserveImageSizeOnResize: true,
      gestureSettingsMouse: { clickToZoom: false, dblClickToZoom: false },
      gestureSettingsPen: { clickToZoom: false, dblClickToZoom: false },
      gestureSettingsTouch: { clickToZoom: false, dblClickToZoom: false },
    } as OpenSeadragon.Options);
    const changed = () => {
      this.cut();
      const smooth = this.zoom() < 0.99;
      this.osd.drawer?.setImageSmoothingEnabled(smooth);
      onChange();
    };
    // The library keeps the middle and the zoom right after it says so: only then can the view go elsewhere.
    this.osd.addHandler("after-resize", () => {
      const before = this.size;
      this.size = this.osd.viewport.getContainerSize();
      queueMicrotask(() => this.resized(before));
    });
    this.size = this.osd.viewport.getContainerSize();
    // A page that is still being laid out is fitted to.
    this.osd.addOnceHandler("open", () => {
      this.changedAt = performance.now();
    });
    for (const event of ["animation", "open", "resize", "update-viewport", "animation-finish"] as const) {
      this.osd.addHandler(event, changed);
    }
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

  /** Show a look, and load others ahead. */
  show(look: Look, ahead: Look[], over: { look: Look; line: number } | null = null) {
    this.look = look;
    this.wanted = lookQuery(look);
    this.ahead = ahead;
    this.over = over && { key: lookQuery(over.look), line: over.line };
    const keep = new Set([this.wanted, this.over?.key, ...ahead.map(lookQuery)]);
    for (const [key, item] of this.items) {
      if (!keep.has(key) && item !== "coming" && item.getOpacity() === 0) {
        this.osd.world.removeItem(item);
        this.items.delete(key);
      }
    }
    this.add(look);
    if (over) this.add(over.look);
    this.settle();
  }

  /** Show what is shown now at a later revision, without waiting for what else is new there. */
  showLater(revision: number) {
    if (!this.look || this.look.shot || this.over) return;
    this.show(
      { ...this.look, revision },
      this.ahead.filter((look) => look.shot),
    );
  }

  /** Cut the covering look at its line, which stays where it is in the view. */
  private cut() {
    for (const [key, item] of this.items) {
      if (item === "coming") continue;
      if (!this.over || key !== this.over.key) {
        if (item.getClip()) item.setClip(null);
        continue;
      }
      const { x, scale } = this.placing();
      const line = this.over.line * this.osd.viewport.getContainerSize().x;
      const wide = Math.min(Math.max((line - x) / scale, 0.01), this.picture.width);
      item.setClip(new OpenSeadragon.Rect(0, 0, wide, this.picture.height));
      item.setOpacity(1);
      const top = this.osd.world.getItemCount() - 1;
      if (this.osd.world.getIndexOfItem(item) !== top) this.osd.world.setItemIndex(item, top);
    }
  }

  private add(look: Look) {
    const key = lookQuery(look);
    if (this.items.has(key)) return;
    this.items.set(key, "coming");
    this.osd.addTiledImage({
      tileSource: source(this.picture, look),
      opacity: 0,
      preload: true,
      success: (event: Event) => {
        const { item } = event as unknown as { item: OpenSeadragon.TiledImage };
        this.items.set(key, item);
        item.addHandler("fully-loaded-change", () => this.settle());
        if (this.items.size === 1) {
          this.osd.viewport.goHome(true);
          item.setOpacity(1);
        }
        this.settle();
      },
    });
  }

  /** The wanted look comes to the front as soon as it is loaded for this view; the last one stays until then. */
  private settle() {
    const item = this.items.get(this.wanted);
    if (!item || item === "coming") return;
    const cover = this.over && this.items.get(this.over.key);
    const shown = [...this.items.values()].some(
      (i) => i !== "coming" && i !== item && i !== cover && i.getOpacity() > 0,
    );
    if (!item.getFullyLoaded() && shown) return;
    if (item.getOpacity() < 1) item.setOpacity(1);
    const top = this.osd.world.getItemCount() - 1;
    if (this.osd.world.getIndexOfItem(item) !== top) this.osd.world.setItemIndex(item, top);
    for (const other of this.items.values()) {
      if (other !== "coming" && other !== item && other !== cover && other.getOpacity() > 0)
        other.setOpacity(0);
    }
    this.cut();
    const keep = new Set([this.wanted, this.over?.key, ...this.ahead.map(lookQuery)]);
    for (const [key, other] of this.items) {
      if (!keep.has(key) && other !== "coming") {
        this.osd.world.removeItem(other);
        this.items.delete(key);
      }
    }
    for (const look of this.ahead) this.add(look);
    if (this.osd.element.dataset.look !== this.wanted) {
      this.osd.element.dataset.look = this.wanted;
      this.onShown(this.wanted);
    }
    this.osd.element.dataset.over = this.over?.key ?? "";
  }

  /** Whether what is wanted is what is shown. */
  get isSettled(): boolean {
    // Once it was destroyed it has no element any more.
    return (this.osd.element as HTMLElement | null)?.dataset.look === this.wanted;
  }

  /** What the view shows now, as it is: the same place and size as the layer over it. */
  still(): CanvasImageSource {
    const drawer = this.osd.drawer as unknown as { canvas: HTMLCanvasElement };
    const copy = new OffscreenCanvas(drawer.canvas.width, drawer.canvas.height);
    copy.getContext("2d", COLOURS)?.drawImage(drawer.canvas, 0, 0);
    return copy;
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

  /** Do something as soon as there is a picture. */
  whenOpen(does: () => void) {
    if (this.osd.world.getItemCount()) does();
    else this.osd.world.addOnceHandler("add-item", () => setTimeout(does));
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

  destroy() {
    this.osd.destroy();
  }
}
