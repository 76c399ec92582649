import { chosen } from "../../reading/sweeps";
import { useDeskState } from "../../state/state";
import type { Scene } from "./scene";

/** Where the snag is that was gone to: corners round it, so that nothing of it is covered. */
export function paintSnag({ ctx, at, density, desk }: Scene) {
  const { snag, asShot, before, selected } = useDeskState.getState();
  const found = chosen(desk, selected)?.snags.find((each) => each.id === snag && !each.dismissed);
  if (!found || asShot || before) return;
  const rim = 8 * density;
  const [left, top] = [at.x + found.box.x * at.scale - rim, at.y + found.box.y * at.scale - rim];
  const right = left + found.box.width * at.scale + 2 * rim;
  const bottom = top + found.box.height * at.scale + 2 * rim;
  const arm = Math.min(18 * density, (right - left) / 3, (bottom - top) / 3);
  for (const [colour, wide] of [
    ["rgba(0,0,0,.75)", 4],
    ["#f2a71b", 2],
  ] as const) {
    ctx.strokeStyle = colour;
    ctx.lineWidth = wide * density;
    ctx.beginPath();
    for (const [x, across] of [
      [left, arm],
      [right, -arm],
    ] as const)
      for (const [y, down] of [
        [top, arm],
        [bottom, -arm],
      ] as const) {
        ctx.moveTo(x + across, y);
        ctx.lineTo(x, y);
        ctx.lineTo(x, y + down);
      }
    ctx.stroke();
  }
}
