import type { Drawable, Outline, Shape, Stroke } from "../../api/client";

/** From picture pixels to canvas pixels. */
export type Placing = { x: number; y: number; scale: number };
export type Area = { x: number; y: number; width: number; height: number };

/** Something to be drawn: what a hand is drawing, or a whole mask as the server knows it. */
export type Drawn = Exclude<Shape, { kind: "area" }> | MaskPath;
/** The outline of a mask in picture pixels, and the box it lies in; filled by the even-odd rule. */
export type MaskPath = { kind: "mask"; path: Path2D; box: Area; erase?: false };

/** A mask's path from the rings that the server sends. */
export function maskPath(rings: number[][]): MaskPath {
  const path = new Path2D();
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const ring of rings) {
    for (let i = 0; i + 1 < ring.length; i += 2) {
      const [x, y] = [ring[i] ?? 0, ring[i + 1] ?? 0];
      if (i === 0) path.moveTo(x, y);
      else path.lineTo(x, y);
      left = Math.min(left, x);
      right = Math.max(right, x);
      top = Math.min(top, y);
      bottom = Math.max(bottom, y);
    }
    path.closePath();
  }
  const empty = left > right;
  const box = empty
    ? { x: 0, y: 0, width: 0, height: 0 }
    : { x: left - 0.5, y: top - 0.5, width: right - left + 1, height: bottom - top + 1 };
  return { kind: "mask", path, box };
}

/** How wide a stroke is drawn, in canvas pixels; a soft edge is shown where it is half. */
const width = (stroke: Stroke, scale: number) => stroke.size * (1 - (stroke.softness ?? 0) / 2) * scale;

/** Draw shapes solid, grown by some canvas pixels all round; those that take away cut. */
export function drawShapes(
  ctx: CanvasRenderingContext2D,
  shapes: readonly Drawn[],
  at: Placing,
  grown: number,
  colour: string,
) {
  ctx.lineCap = "round";
  ctx.lineJoin = "round";
  ctx.strokeStyle = ctx.fillStyle = colour;
  for (const shape of shapes) {
    const more = shape.erase ? -grown : grown;
    ctx.globalCompositeOperation = shape.erase ? "destination-out" : "source-over";
    if (shape.kind === "stroke") drawStroke(ctx, shape, at, more);
    else if (shape.kind === "outline") drawOutline(ctx, shape, at, more);
    else {
      ctx.save();
      ctx.setTransform(at.scale, 0, 0, at.scale, at.x, at.y);
      ctx.fill(shape.path, "evenodd");
      // Rings run through the middle of the outermost pixels.
      ctx.lineWidth = 1 + (2 * more) / at.scale;
      ctx.stroke(shape.path);
      ctx.restore();
    }
  }
  ctx.globalCompositeOperation = "source-over";
}

function drawStroke(ctx: CanvasRenderingContext2D, stroke: Stroke, at: Placing, more: number) {
  const { points, pressure } = stroke;
  const full = width(stroke, at.scale);
  const wide = (press: number) => Math.max(full * press + 2 * more, 0.75);
  if (full + 2 * more <= 0) return;
  const place = ([x = 0, y = 0]: readonly number[]) => [at.x + x * at.scale, at.y + y * at.scale] as const;
  if (pressure && points.length > 1) {
    for (let i = 1; i < points.length; i++) {
      ctx.lineWidth = wide(((pressure[i - 1] ?? 1) + (pressure[i] ?? 1)) / 2);
      ctx.beginPath();
      ctx.moveTo(...place(points[i - 1] ?? []));
      ctx.lineTo(...place(points[i] ?? []));
      ctx.stroke();
    }
    return;
  }
  ctx.lineWidth = wide(pressure?.[0] ?? 1);
  ctx.beginPath();
  points.forEach((point, i) => {
    if (i === 0) ctx.moveTo(...place(point));
    else ctx.lineTo(...place(point));
  });
  const [first] = points;
  // A single point has no length: a dot needs a nudge to be drawn.
  if (points.length === 1 && first) ctx.lineTo(at.x + first[0] * at.scale + 0.01, at.y + first[1] * at.scale);
  ctx.stroke();
}

function drawOutline(ctx: CanvasRenderingContext2D, outline: Outline, at: Placing, more: number) {
  ctx.beginPath();
  outline.points.forEach(([x, y], i) => {
    if (i === 0) ctx.moveTo(at.x + x * at.scale, at.y + y * at.scale);
    else ctx.lineTo(at.x + x * at.scale, at.y + y * at.scale);
  });
  ctx.closePath();
  ctx.fill("nonzero");
  if (more > 0) {
    ctx.lineWidth = 2 * more;
    ctx.stroke();
  }
}

/** Whole canvas pixels that shapes can touch, some rim included, cut to the canvas. */
export function areaOf(
  shapes: readonly Drawn[],
  at: Placing,
  rim: number,
  canvas: { width: number; height: number },
): Area {
  let [left, top, right, bottom] = [canvas.width, canvas.height, 0, 0];
  const touch = (x: number, y: number, reach: number) => {
    left = Math.min(left, at.x + x * at.scale - reach);
    right = Math.max(right, at.x + x * at.scale + reach);
    top = Math.min(top, at.y + y * at.scale - reach);
    bottom = Math.max(bottom, at.y + y * at.scale + reach);
  };
  for (const shape of shapes) {
    if (shape.erase) continue;
    if (shape.kind === "mask") {
      if (shape.box.width <= 0) continue;
      touch(shape.box.x, shape.box.y, rim);
      touch(shape.box.x + shape.box.width, shape.box.y + shape.box.height, rim);
    } else {
      const reach = (shape.kind === "stroke" ? width(shape, at.scale) / 2 : 0) + rim;
      for (const [x, y] of shape.points) touch(x, y, reach);
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

/** A shape of so many points at the most, each with its pressure if it has one. */
export function cutTo(shape: Drawable, most: number): Drawable {
  const cut = { ...shape, points: shape.points.slice(0, most) } as Drawable;
  if (cut.kind === "stroke" && cut.pressure) cut.pressure = cut.pressure.slice(0, most);
  return cut;
}

/** The same, in place. */
export function cutShort(shape: Drawable, most: number): void {
  shape.points.length = Math.min(shape.points.length, most);
  if (shape.kind === "stroke" && shape.pressure)
    shape.pressure.length = Math.min(shape.pressure.length, most);
}
