import type { Stroke } from "../../api/client";

/** From picture pixels to canvas pixels. */
export type Placing = { x: number; y: number; scale: number };

/** Draw strokes as solid shapes; a soft edge is shown where it is half. */
export function drawStrokes(ctx: CanvasRenderingContext2D, strokes: readonly Stroke[], at: Placing) {
  ctx.lineCap = "round";
  ctx.lineJoin = "round";
  for (const stroke of strokes) {
    ctx.globalCompositeOperation = stroke.erase ? "destination-out" : "source-over";
    ctx.lineWidth = Math.max(stroke.size * (1 - (stroke.softness ?? 0) / 2) * at.scale, 0.75);
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

/** Turns drawn shapes into a hatch with a crisp edge; keeps its scratch canvases between frames. */
export class Hatch {
  private shape = document.createElement("canvas");
  private ring = document.createElement("canvas");
  private tile = stripes("#f2a71b", 9);

  paint(ctx: CanvasRenderingContext2D, strokes: readonly Stroke[], at: Placing, strength: number) {
    const { width, height } = ctx.canvas;
    for (const canvas of [this.shape, this.ring]) {
      if (canvas.width !== width || canvas.height !== height) {
        canvas.width = width;
        canvas.height = height;
      }
    }
    const shape = this.shape.getContext("2d");
    const ring = this.ring.getContext("2d");
    if (!shape || !ring) return;
    shape.clearRect(0, 0, width, height);
    drawStrokes(shape, strokes, at);
    this.outline(ring, 2.5);
    tint(ring, "#1b1b1a");
    ctx.drawImage(this.ring, 0, 0);
    this.outline(ring, 1.25);
    tint(ring, "#ffd98a");
    ctx.drawImage(this.ring, 0, 0);
    shape.globalCompositeOperation = "source-in";
    const fill = shape.createPattern(this.tile, "repeat");
    if (fill) {
      shape.fillStyle = fill;
      shape.fillRect(0, 0, width, height);
    }
    shape.globalCompositeOperation = "source-over";
    ctx.globalAlpha = strength;
    ctx.drawImage(this.shape, 0, 0);
    ctx.globalAlpha = 1;
  }

  /** The shape grown by some pixels, less the shape. */
  private outline(ring: CanvasRenderingContext2D, by: number) {
    ring.clearRect(0, 0, this.ring.width, this.ring.height);
    for (let k = 0; k < 8; k++) {
      ring.drawImage(this.shape, by * Math.cos((k * Math.PI) / 4), by * Math.sin((k * Math.PI) / 4));
    }
    ring.globalCompositeOperation = "destination-out";
    ring.drawImage(this.shape, 0, 0);
    ring.globalCompositeOperation = "source-over";
  }
}

function tint(ctx: CanvasRenderingContext2D, colour: string) {
  ctx.globalCompositeOperation = "source-in";
  ctx.fillStyle = colour;
  ctx.fillRect(0, 0, ctx.canvas.width, ctx.canvas.height);
  ctx.globalCompositeOperation = "source-over";
}
