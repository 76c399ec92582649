import { useDeskState } from "../../state/state";
import type { MaskPath } from "../shapes";
import type { Scene } from "./scene";

/** What seems to belong to the mark too, and what a click would take: outlines only, until they are taken. */
export function paintGhosts({ ctx, at, density, masks }: Scene, under: MaskPath | null) {
  const { asShot, masks: shown } = useDeskState.getState();
  if (asShot || !shown) return;
  for (const { path } of masks.ghosts.concat(under ?? [])) {
    ctx.save();
    ctx.setTransform(at.scale, 0, 0, at.scale, at.x, at.y);
    for (const [colour, wide] of [
      ["#1b1b1a", 3.2],
      ["#ffffff", 1.6],
    ] as const) {
      ctx.strokeStyle = colour;
      ctx.lineWidth = (wide * density) / at.scale;
      ctx.setLineDash([(7 * density) / at.scale, (5 * density) / at.scale]);
      ctx.stroke(path);
    }
    ctx.restore();
  }
}
