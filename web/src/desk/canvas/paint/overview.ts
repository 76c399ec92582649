import { cropUrl, type State } from "../../../api/views";
import { pictured } from "../../reading/look";
import type { Scene } from "./scene";

/** The longer side of the overview, and how far it stays from the corner, CSS pixels. */
const LONG = 150;
const ASIDE = 10;
/** With more of the picture in view than this one knows where one is. */
const NEARLY_ALL = 0.7;

/** All of the picture, small, with what of it is in view; while it is not all in view. */
export class Overview {
  private picture: { key: string; image: HTMLImageElement } | null = null;

  constructor(private loaded: () => void) {}

  paint({ ctx, at, density, desk }: Scene) {
    const { id, width, height } = desk.frame;
    const { canvas } = ctx;
    const left = Math.max(-at.x / at.scale, 0);
    const top = Math.max(-at.y / at.scale, 0);
    const right = Math.min((canvas.width - at.x) / at.scale, width);
    const bottom = Math.min((canvas.height - at.y) / at.scale, height);
    if (right <= left || bottom <= top) return;
    if ((right - left) * (bottom - top) > NEARLY_ALL * width * height) return;
    const scale = (LONG * density) / Math.max(width, height);
    const [wide, tall] = [width * scale, height * scale];
    const x = canvas.width - wide - ASIDE * density;
    const y = canvas.height - tall - ASIDE * density;
    ctx.fillStyle = "#1b1b1a";
    ctx.fillRect(x - density, y - density, wide + 2 * density, tall + 2 * density);
    const image = this.of(id, pictured(desk), width, height);
    if (image.complete && image.naturalWidth) ctx.drawImage(image, x, y, wide, tall);
    ctx.lineWidth = 2 * density;
    ctx.strokeStyle = "#1b1b1a";
    ctx.strokeRect(x + left * scale, y + top * scale, (right - left) * scale, (bottom - top) * scale);
    ctx.lineWidth = density;
    ctx.strokeStyle = "#ffffff";
    ctx.strokeRect(x + left * scale, y + top * scale, (right - left) * scale, (bottom - top) * scale);
  }

  private of(frame: number, state: State, width: number, height: number): HTMLImageElement {
    const key = cropUrl(frame, state, { x: 0, y: 0, width, height }, 2 * LONG);
    if (this.picture?.key !== key) {
      const image = new Image();
      image.onload = this.loaded;
      image.src = key;
      this.picture = { key, image };
    }
    return this.picture.image;
  }
}
