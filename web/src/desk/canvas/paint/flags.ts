import { useDeskState } from "../../state/state";
import type { Scene } from "./scene";

const FLAG = 20;

/** A numbered flag for each sweep. */
export function paintFlags({ ctx, at, density, desk }: Scene) {
  const { masks, selected, asShot } = useDeskState.getState();
  if (!masks || asShot) return;
  ctx.font = `700 ${12 * density}px 'Atkinson Hyperlegible', sans-serif`;
  ctx.textAlign = "center";
  ctx.textBaseline = "middle";
  const size = FLAG * density;
  for (const sweep of desk.sweeps) {
    if (sweep.box.width <= 0) continue;
    const right = Math.min(sweep.box.x + sweep.box.width, desk.frame.width);
    const x = Math.min(
      Math.max(Math.min(at.x + right * at.scale + 4, at.x + desk.frame.width * at.scale - size), 2),
      ctx.canvas.width - size - 2,
    );
    const y = Math.min(Math.max(at.y + sweep.box.y * at.scale - size, 2), ctx.canvas.height - size - 2);
    const done = sweep.state === "kept";
    ctx.globalAlpha = sweep.shown ? 1 : 0.55;
    ctx.fillStyle = done ? "#1b1b1a" : "#f4f4f2";
    ctx.strokeStyle = sweep.id === selected ? "#f2a71b" : "#1b1b1a";
    ctx.lineWidth = (sweep.id === selected ? 2.5 : 1) * density;
    ctx.beginPath();
    ctx.roundRect(x, y, size, size, 3 * density);
    ctx.fill();
    ctx.stroke();
    ctx.fillStyle = done ? "#ffffff" : "#1b1b1a";
    ctx.fillText(String(sweep.number), x + size / 2, y + size / 2 + density);
    ctx.globalAlpha = 1;
  }
}
