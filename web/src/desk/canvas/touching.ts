import type { Source, Stroke, TouchBrush } from "../../api/client";
import { areaOf, drawShapes, type Placing } from "./shapes";

type Point = [number, number];
/** The point that is copied, and the point that it is laid on once a stroke has begun. */
export type SourceSet = { at: Point; to: Point | null };
/** How the brush is held. */
export type Held = {
  tool: string;
  source: SourceSet | null;
  aligned: boolean;
  mirror: boolean;
  turn: number;
  strength: number;
};
/** A stroke with what the screen showed when it was begun, so that it can be seen until the picture has it. */
export type Laid = {
  brush: TouchBrush;
  stroke: Stroke;
  source: Source | null;
  strength: number;
  still: { picture: CanvasImageSource; at: Placing };
  revision: number | null;
};

const TOUCH_BRUSHES: readonly string[] = ["clone", "heal", "bring back"] satisfies TouchBrush[];

export const isTouch = (tool: string): tool is TouchBrush => TOUCH_BRUSHES.includes(tool);

/** The source of a stroke that begins at a point; null where the brush has none. */
export function sourceAt(held: Held, point: Point): Source | null {
  if (!held.source || held.tool === "bring back") return null;
  const to = (held.aligned && held.source.to) || point;
  return { at: held.source.at, to, turn: held.turn, mirror: held.mirror };
}

/** Where a point of the picture is copied from. */
export function copiedFrom(source: Source, [x, y]: Point): Point {
  const angle = (-(source.turn ?? 0) * Math.PI) / 180;
  const [dx, dy] = [x - (source.to[0] ?? 0), y - (source.to[1] ?? 0)];
  const across = dx * Math.cos(angle) - dy * Math.sin(angle);
  const down = dx * Math.sin(angle) + dy * Math.cos(angle);
  return [(source.at[0] ?? 0) + (source.mirror ? -across : across), (source.at[1] ?? 0) + down];
}

/** What of a stroke has been drawn already: strokes only grow, and a long one must not be drawn anew for each frame. */
type Sheet = { mask: OffscreenCanvas; at: string; points: number };
const sheets = new WeakMap<Stroke, Sheet>();

/** The stroke in white on a sheet as large as the canvas. */
function maskOf(stroke: Stroke, at: Placing, canvas: { width: number; height: number }): OffscreenCanvas {
  // Both ends of a straight stroke move; all others only grow.
  const line = stroke.points.length === 2 ? stroke.points.join(" ") : "";
  const key = `${at.x} ${at.y} ${at.scale} ${canvas.width} ${canvas.height} ${line}`;
  let sheet = sheets.get(stroke);
  if (sheet?.at !== key) {
    sheet = { mask: new OffscreenCanvas(canvas.width, canvas.height), at: key, points: 0 };
    sheets.set(stroke, sheet);
  }
  const from = Math.max(0, sheet.points - 1);
  const own = sheet.mask.getContext("2d") as unknown as CanvasRenderingContext2D | null;
  if (own && sheet.points < stroke.points.length) {
    const grown = {
      ...stroke,
      points: stroke.points.slice(from),
      ...(stroke.pressure ? { pressure: stroke.pressure.slice(from) } : {}),
    };
    drawShapes(own, [{ ...grown, erase: false }], at, 0, "#ffffff");
    sheet.points = stroke.points.length;
  }
  return sheet.mask;
}

let spare: OffscreenCanvas | null = null;

/** Draw what a stroke will lay, from a still of the screen; a faint veil where that cannot be told. */
export function paintLaid(ctx: CanvasRenderingContext2D, laid: Laid, at: Placing) {
  const { stroke, source, strength, still } = laid;
  const area = areaOf([stroke], at, 2, ctx.canvas);
  if (area.width <= 0 || area.height <= 0) return;
  const mask = maskOf(stroke, at, ctx.canvas);
  if (spare?.width !== ctx.canvas.width || spare.height !== ctx.canvas.height)
    spare = new OffscreenCanvas(ctx.canvas.width, ctx.canvas.height);
  const own = spare.getContext("2d");
  if (!own) return;
  const whole = [area.x, area.y, area.width, area.height] as const;
  own.save();
  own.beginPath();
  own.rect(...whole);
  own.clip();
  own.clearRect(...whole);
  const fade = ((stroke.softness ?? 0) * stroke.size * at.scale) / 8;
  if (fade > 0.5) own.filter = `blur(${fade}px)`;
  own.drawImage(mask, ...whole, ...whole);
  own.filter = "none";
  if (source) {
    own.globalCompositeOperation = "source-in";
    own.translate(at.x + (source.to[0] ?? 0) * at.scale, at.y + (source.to[1] ?? 0) * at.scale);
    own.rotate(((source.turn ?? 0) * Math.PI) / 180);
    const size = at.scale / still.at.scale;
    own.scale(source.mirror ? -size : size, size);
    own.translate(
      -(still.at.x + (source.at[0] ?? 0) * still.at.scale),
      -(still.at.y + (source.at[1] ?? 0) * still.at.scale),
    );
    own.drawImage(still.picture, 0, 0);
  }
  own.restore();
  ctx.save();
  ctx.globalAlpha = source ? strength / 100 : 0.35;
  ctx.drawImage(spare, ...whole, ...whole);
  ctx.restore();
}

/** A cross where the brush copies from. */
export function paintSource(ctx: CanvasRenderingContext2D, [x, y]: Point, at: Placing, density: number) {
  const [cx, cy, arm] = [at.x + x * at.scale, at.y + y * at.scale, 7 * density];
  for (const [colour, wide] of [
    ["rgba(0,0,0,.75)", 3],
    ["#f2a71b", 1.4],
  ] as const) {
    ctx.strokeStyle = colour;
    ctx.lineWidth = wide * density;
    ctx.beginPath();
    ctx.moveTo(cx - arm, cy);
    ctx.lineTo(cx + arm, cy);
    ctx.moveTo(cx, cy - arm);
    ctx.lineTo(cx, cy + arm);
    ctx.stroke();
  }
}
