import type { Stroke } from "../../api/client";

/** From picture pixels to canvas pixels. */
export type Placing = { x: number; y: number; scale: number };
export type Area = { x: number; y: number; width: number; height: number };

const DARK = "#1b1b1a";
const LIGHT = "#ffd98a";
const RIM = 2.5;

/** How wide a stroke is drawn, in canvas pixels; a soft edge is shown where it is half. */
const width = (stroke: Stroke, scale: number) => stroke.size * (1 - (stroke.softness ?? 0) / 2) * scale;

/** Draw strokes as solid shapes, grown by some canvas pixels all round. */
function drawStrokes(
  ctx: CanvasRenderingContext2D,
  strokes: readonly Stroke[],
  at: Placing,
  grown: number,
  colour: string,
) {
  ctx.lineCap = "round";
  ctx.lineJoin = "round";
  ctx.strokeStyle = colour;
  for (const stroke of strokes) {
    const wide = width(stroke, at.scale) + 2 * (stroke.erase ? -grown : grown);
    if (wide <= 0) continue;
    ctx.globalCompositeOperation = stroke.erase ? "destination-out" : "source-over";
    ctx.lineWidth = Math.max(wide, 0.75);
    ctx.beginPath();
    stroke.points.forEach(([x, y], i) => {
      const px = at.x + x * at.scale;
      const py = at.y + y * at.scale;
      if (i === 0) ctx.moveTo(px, py);
      else ctx.lineTo(px, py);
    });
    const [first] = stroke.points;
    // A single point has no length: a dot needs a nudge to be drawn.
    if (stroke.points.length === 1 && first) {
      ctx.lineTo(at.x + first[0] * at.scale + 0.01, at.y + first[1] * at.scale);
    }
    ctx.stroke();
  }
  ctx.globalCompositeOperation = "source-over";
}

/** Whole canvas pixels that strokes can touch, rim included, cut to the canvas. */
export function areaOf(
  strokes: readonly Stroke[],
  at: Placing,
  canvas: { width: number; height: number },
): Area {
  let [left, top, right, bottom] = [canvas.width, canvas.height, 0, 0];
  for (const stroke of strokes) {
    if (stroke.erase) continue;
    const reach = width(stroke, at.scale) / 2 + RIM + 1;
    for (const [x, y] of stroke.points) {
      left = Math.min(left, at.x + x * at.scale - reach);
      right = Math.max(right, at.x + x * at.scale + reach);
      top = Math.min(top, at.y + y * at.scale - reach);
      bottom = Math.max(bottom, at.y + y * at.scale + reach);
    }
  }
  const x = Math.max(0, Math.floor(left));
  const y = Math.max(0, Math.floor(top));
  return {
    x,
    y,
    width: Math.max(0, Math.min(canvas.width, Math.ceil(right)) - x),
    height: Math.max(0, Math.min(canvas.height, Math.ceil(bottom)) - y),
  };
}

function stripes(colour: string, gap: number): HTMLCanvasElement {
  const tile = document.createElement("canvas");
  tile.width = tile.height = gap;
  const ctx = tile.getContext("2d");
  if (ctx) {
    ctx.strokeStyle = colour;
    ctx.lineWidth = gap * 0.3;
    ctx.beginPath();
    for (const shift of [-gap, 0, gap]) {
      ctx.moveTo(shift - 1, gap + 1);
      ctx.lineTo(shift + gap + 1, -1);
    }
    ctx.stroke();
  }
  return tile;
}

/** Turns strokes into a hatch with a crisp edge. Only the area that they touch is worked on, so that a stroke
 * stays fluid on a large screen; the scratch canvases are kept between frames. */
export class Hatch {
  private sheet = document.createElement("canvas");
  private shape = document.createElement("canvas");
  private tile = stripes("#f2a71b", 9);

  paint(ctx: CanvasRenderingContext2D, strokes: readonly Stroke[], at: Placing, strength: number) {
    const area = areaOf(strokes, at, ctx.canvas);
    if (!area.width || !area.height) return;
    const sheet = this.fresh(this.sheet, area);
    const shape = this.fresh(this.shape, area);
    if (!sheet || !shape) return;
    const here = { x: at.x - area.x, y: at.y - area.y, scale: at.scale };
    const put = (how: GlobalCompositeOperation) => {
      sheet.globalCompositeOperation = how;
      sheet.drawImage(this.shape, 0, 0);
    };
    drawStrokes(sheet, strokes, here, RIM, DARK);
    drawStrokes(shape, strokes, here, RIM / 2, LIGHT);
    put("source-over");
    shape.clearRect(0, 0, area.width, area.height);
    drawStrokes(shape, strokes, here, 0, DARK);
    put("destination-out");
    const pattern = shape.createPattern(this.tile, "repeat");
    if (pattern) {
      // The stripes stay where they are on the screen while a stroke grows.
      pattern.setTransform(new DOMMatrix().translate(-area.x, -area.y));
      shape.globalCompositeOperation = "source-in";
      shape.globalAlpha = strength;
      shape.fillStyle = pattern;
      shape.fillRect(0, 0, area.width, area.height);
    }
    put("source-over");
    ctx.drawImage(this.sheet, 0, 0, area.width, area.height, area.x, area.y, area.width, area.height);
  }

  private fresh(canvas: HTMLCanvasElement, area: Area): CanvasRenderingContext2D | null {
    const ctx = canvas.getContext("2d");
    if (canvas.width < area.width || canvas.height < area.height) {
      canvas.width = Math.max(canvas.width, area.width);
      canvas.height = Math.max(canvas.height, area.height);
    }
    if (ctx) {
      ctx.globalCompositeOperation = "source-over";
      ctx.globalAlpha = 1;
      ctx.clearRect(0, 0, canvas.width, canvas.height);
    }
    return ctx;
  }
}
