import type { Brings } from "../../../api/client";
import { useDeskState } from "../../state/state";
import type { Pieces } from "../pieces";
import { isTouch } from "../touching";
import type { Scene } from "./scene";

type Place = readonly [number, number];
/** The two strokes of an arrow's head: how long, CSS pixels, and how far off its line. */
const BARB_PX = 9;
const BARB_RAD = 0.45;

export const isRound = (tool: string) => tool === "brush" || isTouch(tool);

/** The piece under the pointer, before a click takes it, and those stroked over. */
export function paintPieces({ ctx, at, density, drawing }: Scene, pieces: Pieces) {
  const { tool, look } = useDeskState.getState();
  if (tool !== "pieces" || !drawing.pointer) return;
  const x = (drawing.pointer.x * density - at.x) / at.scale;
  const y = (drawing.pointer.y * density - at.y) / at.scale;
  const under = pieces.at(x, y);
  pieces.paint(ctx, new Set([...drawing.pieces, ...(under === null ? [] : [under])]), at, look.colour);
}

/** Corners set so far, and the line to the pointer. */
export function paintCorners({ ctx, at, density, drawing }: Scene) {
  const [first] = drawing.corners;
  if (!first) return;
  const place = ([x, y]: [number, number]) => [at.x + x * at.scale, at.y + y * at.scale] as const;
  for (const [colour, wide] of [
    ["rgba(0,0,0,.75)", 3],
    ["#ffffff", 1.4],
  ] as const) {
    ctx.strokeStyle = colour;
    ctx.lineWidth = wide * density;
    ctx.beginPath();
    ctx.moveTo(...place(first));
    for (const corner of drawing.corners.slice(1)) ctx.lineTo(...place(corner));
    if (drawing.pointer) ctx.lineTo(drawing.pointer.x * density, drawing.pointer.y * density);
    ctx.stroke();
  }
  for (const corner of drawing.corners) {
    const [x, y] = place(corner);
    const half = (corner === first ? 5 : 3) * density;
    ctx.fillStyle = "#ffffff";
    ctx.fillRect(x - half, y - half, 2 * half, 2 * half);
    ctx.strokeStyle = "#1b1b1a";
    ctx.lineWidth = density;
    ctx.strokeRect(x - half, y - half, 2 * half, 2 * half);
  }
}

/** Axes are drawn in dashes and rows in dots, pixels of the screen. */
const DASHES: Partial<Record<Brings, number[]>> = { mirror: [7, 4], repeat: [1.5, 3.5] };

/** What leads the fill of the chosen sweep: lines with a dot at each end, arrows from a dot to a point. */
export function paintLead({ ctx, at, density, desk }: Scene) {
  const { masks, selected, asShot } = useDeskState.getState();
  const sweep = desk.sweeps.find((each) => each.id === selected);
  if (!sweep || !masks || asShot) return;
  for (const { points, brings } of sweep.lead) {
    const places = points.map(
      ([x, y]) => [at.x + (x + 0.5) * at.scale, at.y + (y + 0.5) * at.scale] as const,
    );
    for (const [colour, wide] of [
      ["rgba(0,0,0,.75)", 3.4],
      ["#ffffff", 1.6],
    ] as const) {
      ctx.strokeStyle = colour;
      ctx.fillStyle = colour;
      ctx.lineWidth = wide * density;
      ctx.setLineDash((DASHES[brings ?? "edge"] ?? []).map((each) => each * density));
      ctx.beginPath();
      for (const [k, place] of places.entries()) k ? ctx.lineTo(...place) : ctx.moveTo(...place);
      ctx.stroke();
      ctx.setLineDash([]);
      const [first, last] = [places.at(0), places.at(-1)];
      for (const place of brings === "ground" ? [first] : [first, last]) {
        if (!place) continue;
        ctx.beginPath();
        ctx.arc(...place, (1.6 + wide / 2) * density, 0, Math.PI * 2);
        ctx.fill();
      }
      if (brings === "ground" && first && last) arrowHead(ctx, first, last, density);
    }
  }
}

/** Two short strokes back from the end of an arrow. */
function arrowHead(ctx: CanvasRenderingContext2D, from: Place, to: Place, density: number) {
  const back = Math.atan2(from[1] - to[1], from[0] - to[0]);
  ctx.beginPath();
  for (const turn of [-BARB_RAD, BARB_RAD]) {
    ctx.moveTo(...to);
    ctx.lineTo(
      to[0] + BARB_PX * density * Math.cos(back + turn),
      to[1] + BARB_PX * density * Math.sin(back + turn),
    );
  }
  ctx.stroke();
}

/** The brush round the pointer, broken where it takes away. */
export function paintBrush({ ctx, at, density, drawing }: Scene) {
  const { size, erase, flipped, hand, asShot, tool, sourcing, leading } = useDeskState.getState();
  if (!drawing.pointer || hand || asShot || sourcing || leading || !isRound(tool)) return;
  const x = drawing.pointer.x * density;
  const y = drawing.pointer.y * density;
  const radius = Math.max((size / 2) * at.scale, 1);
  for (const [colour, wide] of [
    ["rgba(0,0,0,.75)", 2.6],
    ["#ffffff", 1.2],
  ] as const) {
    ctx.strokeStyle = colour;
    ctx.lineWidth = wide * density;
    ctx.setLineDash(tool === "brush" && erase !== flipped ? [5 * density, 4 * density] : []);
    ctx.beginPath();
    ctx.arc(x, y, radius, 0, Math.PI * 2);
    ctx.stroke();
  }
  ctx.setLineDash([]);
}
