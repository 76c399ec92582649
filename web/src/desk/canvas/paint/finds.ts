import { useDeskState } from "../../state/state";
import { drawShapes } from "../shapes";
import type { Scene } from "./scene";

/** What the scouts found: outlines, firm where it goes, broken where it stays; the chosen one in the accent. */
export function paintFinds({ ctx, at, density, masks, drawing }: Scene) {
  const { asShot, masks: shown, find } = useDeskState.getState();
  if (asShot || !shown) return;
  for (const each of masks.finds) {
    const chosen = each.id === find;
    ctx.save();
    ctx.setTransform(at.scale, 0, 0, at.scale, at.x, at.y);
    for (const [colour, wide] of [
      ["#1b1b1a", chosen ? 5 : 3.6],
      [chosen ? "#f2a71b" : "#ffffff", chosen ? 2.8 : 1.8],
    ] as const) {
      ctx.strokeStyle = colour;
      ctx.lineWidth = (wide * density) / at.scale;
      ctx.setLineDash(each.goes ? [] : [(6 * density) / at.scale, (6 * density) / at.scale]);
      for (const path of [each.path, ...each.also]) ctx.stroke(path.path);
    }
    ctx.restore();
  }
  if (find !== null && drawing.shape) drawShapes(ctx, [drawing.shape], at, 0, "rgba(242,167,27,.6)");
}
