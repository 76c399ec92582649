import { useDeskState } from "../../state/state";
import type { Scene } from "./scene";

/** The line between two takes, with a grip in its middle. */
export function paintLine({ ctx, density }: Scene) {
  const { compare, line, asShot, before } = useDeskState.getState();
  if (compare !== "split" || asShot || before) return;
  const x = line * ctx.canvas.width;
  const middle = ctx.canvas.height / 2;
  for (const [colour, wide] of [
    ["#1b1b1a", 4],
    ["#ffffff", 2],
  ] as const) {
    ctx.strokeStyle = colour;
    ctx.lineWidth = wide * density;
    ctx.beginPath();
    ctx.moveTo(x, 0);
    ctx.lineTo(x, ctx.canvas.height);
    ctx.stroke();
  }
  ctx.fillStyle = "#ffffff";
  ctx.strokeStyle = "#1b1b1a";
  ctx.beginPath();
  ctx.roundRect(x - 5 * density, middle - 16 * density, 10 * density, 32 * density, 3 * density);
  ctx.fill();
  ctx.stroke();
}
