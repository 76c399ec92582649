import { type Area, areaOf, type Drawn, drawShapes, type Placing } from "./shapes";

const DARK = "#1b1b1a";
const LIGHT = "#ffffff";
const RIM = 2.5;

export type Pattern = "hatch" | "lattice" | "dots" | "flat";
export type MaskLook = { colour: string; strength: number; pattern: Pattern };

/** One tile of a pattern, gap pixels wide. */
function tileOf(pattern: Pattern, colour: string, gap: number): HTMLCanvasElement {
  const tile = document.createElement("canvas");
  tile.width = tile.height = gap;
  const ctx = tile.getContext("2d");
  if (!ctx) return tile;
  ctx.strokeStyle = ctx.fillStyle = colour;
  ctx.lineWidth = gap * (pattern === "lattice" ? 0.2 : 0.3);
  if (pattern === "flat") ctx.fillRect(0, 0, gap, gap);
  if (pattern === "dots") {
    ctx.beginPath();
    ctx.arc(gap / 2, gap / 2, gap * 0.28, 0, 2 * Math.PI);
    ctx.fill();
  }
  const lean = (way: 1 | -1) => {
    ctx.beginPath();
    for (const shift of [-gap, 0, gap]) {
      ctx.moveTo(shift - 1, way > 0 ? gap + 1 : -1);
      ctx.lineTo(shift + gap + 1, way > 0 ? -1 : gap + 1);
    }
    ctx.stroke();
  };
  if (pattern === "hatch" || pattern === "lattice") lean(1);
  if (pattern === "lattice") lean(-1);
  return tile;
}

/** Turns shapes into a pattern with a crisp edge. Only the area that they touch is worked on, so that a stroke
 * stays fluid on a large screen; the scratch canvases are kept between frames. */
export class Hatch {
  private sheet = document.createElement("canvas");
  private shape = document.createElement("canvas");
  private tiles = new Map<string, HTMLCanvasElement>();

  paint(ctx: CanvasRenderingContext2D, shapes: readonly Drawn[], at: Placing, look: MaskLook) {
    const area = areaOf(shapes, at, RIM + 1, ctx.canvas);
    if (!area.width || !area.height) return;
    const sheet = this.fresh(this.sheet, area);
    const shape = this.fresh(this.shape, area);
    if (!sheet || !shape) return;
    const here = { x: at.x - area.x, y: at.y - area.y, scale: at.scale };
    const put = (how: GlobalCompositeOperation) => {
      sheet.globalCompositeOperation = how;
      sheet.drawImage(this.shape, 0, 0);
    };
    drawShapes(sheet, shapes, here, RIM, DARK);
    drawShapes(shape, shapes, here, RIM / 2, LIGHT);
    put("source-over");
    shape.clearRect(0, 0, area.width, area.height);
    drawShapes(shape, shapes, here, 0, DARK);
    put("destination-out");
    const pattern = shape.createPattern(this.tile(look.pattern, look.colour), "repeat");
    if (pattern) {
      // The pattern stays where it is on the screen while a stroke grows.
      pattern.setTransform(new DOMMatrix().translate(-area.x, -area.y));
      shape.globalCompositeOperation = "source-in";
      shape.globalAlpha = look.strength;
      shape.fillStyle = pattern;
      shape.fillRect(0, 0, area.width, area.height);
    }
    put("source-over");
    ctx.drawImage(this.sheet, 0, 0, area.width, area.height, area.x, area.y, area.width, area.height);
  }

  private tile(pattern: Pattern, colour: string): HTMLCanvasElement {
    const key = pattern + colour;
    const tile = this.tiles.get(key) ?? tileOf(pattern, colour, 9);
    this.tiles.set(key, tile);
    return tile;
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
