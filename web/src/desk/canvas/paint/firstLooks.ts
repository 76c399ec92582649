import { useDeskState } from "../../state/state";
import type { Scene } from "./scene";

/** Instead of its mark: where something is about to be gone, what will be there. */
export function paintFirstLooks({ ctx, at, firstLooks }: Scene) {
  const { asShot, before, maskAlone } = useDeskState.getState();
  if (asShot || before || maskAlone) return;
  for (const { box, picture } of firstLooks.seen) {
    if (!picture) continue;
    ctx.save();
    ctx.setTransform(at.scale, 0, 0, at.scale, at.x, at.y);
    ctx.drawImage(picture, box.x, box.y, box.width, box.height);
    ctx.restore();
  }
}
