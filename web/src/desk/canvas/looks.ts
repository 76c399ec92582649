import OpenSeadragon from "openseadragon";
import { COLOURS } from "../../api/screen";
import { type Look, lookQuery, tileUrl } from "../../api/views";
import type { Camera } from "./camera";
import type { Picture } from "./picture";

const TILE = 512;

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

/** The looks of one picture: they replace each other in place without a flicker. */
export class Looks {
  private items = new Map<string, OpenSeadragon.TiledImage | "coming">();
  private wanted = "";
  private look: Look | null = null;
  private ahead: Look[] = [];
  /** Called when another look has come to the front. */
  onShown: (look: string) => void = () => undefined;
  /** A look that covers the left of the view, up to a share of its width. */
  private over: { key: string; line: number } | null = null;

  constructor(
    private osd: OpenSeadragon.Viewer,
    private picture: Picture,
    private camera: Camera,
  ) {}

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
  cut() {
    for (const [key, item] of this.items) {
      if (item === "coming") continue;
      if (!this.over || key !== this.over.key) {
        if (item.getClip()) item.setClip(null);
        continue;
      }
      const { x, scale } = this.camera.placing();
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
}
