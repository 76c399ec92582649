import { cropUrl, type Look } from "../../api/views";
import type { Placing } from "./shapes";
import type { Laid } from "./touching";

type Box = { x: number; y: number; width: number; height: number };

/** How far round the source a crop reaches, in sizes of the brush, and how wide it is at most, pixels. */
const ROUND = 3;
const ACROSS = 1200;

/** What a brush copies from while that lies outside the view: a crop of the picture, fetched when it is needed. */
export class FarSource {
  private known: { key: string; box: Box; picture: HTMLImageElement } | null = null;
  private coming = "";

  constructor(private onLoad: () => void) {}

  /** A still of the picture round a point; null while there is none yet. */
  still(
    frame: { id: number; width: number; height: number },
    look: Look,
    [x, y]: [number, number],
    size: number,
  ): Laid["still"] | null {
    const known = this.known;
    if (known && known.key === keyOf(frame.id, look) && holds(known.box, x, y, size)) {
      const scale = known.picture.naturalWidth / known.box.width;
      return { picture: known.picture, at: { x: -known.box.x * scale, y: -known.box.y * scale, scale } };
    }
    const box = boxRound(frame, x, y, Math.max(ROUND * size, 64));
    const url = cropUrl(frame.id, look, box, Math.min(ACROSS, box.width));
    if (box.width > 0 && box.height > 0 && this.coming !== url) {
      this.coming = url;
      const picture = new Image();
      picture.onload = () => {
        this.known = { key: keyOf(frame.id, look), box, picture };
        this.onLoad();
      };
      picture.src = url;
    }
    return null;
  }
}

/** Whether a point of the picture lies in the view. */
export function inView([x, y]: [number, number], at: Placing, view: { width: number; height: number }) {
  const [column, row] = [at.x + x * at.scale, at.y + y * at.scale];
  return column >= 0 && row >= 0 && column < view.width && row < view.height;
}

const keyOf = (frame: number, look: Look) => `${frame} ${JSON.stringify(look)}`;

function holds(box: Box, x: number, y: number, size: number): boolean {
  const rim = size / 2;
  return (
    x - rim >= box.x && y - rim >= box.y && x + rim <= box.x + box.width && y + rim <= box.y + box.height
  );
}

/** A box round a point, cut to the picture. */
export function boxRound(frame: { width: number; height: number }, x: number, y: number, reach: number): Box {
  const left = Math.max(0, Math.floor(x - reach));
  const top = Math.max(0, Math.floor(y - reach));
  return {
    x: left,
    y: top,
    width: Math.min(frame.width, Math.ceil(x + reach)) - left,
    height: Math.min(frame.height, Math.ceil(y + reach)) - top,
  };
}
