import { useDeskState } from "../../state/state";
import type { FirstLooks } from "../firstLooks";
import type { Scene } from "./scene";

/** Over the marks: where something is about to be gone, what will be there. */
export function paintFirstLooks({ ctx, at }: Scene, looks: FirstLooks) {
  const { asShot, before, maskAlone } = useDeskState.getState();
  if (asShot || before || maskAlone) return;
  for (const { box, picture } of looks.seen) {
    if (!picture) continue;
    ctx.save();
    ctx.setTransform(at.scale, 0, 0, at.scale, at.x, at.y);
    ctx.drawImage(picture, box.x, box.y, box.width, box.height);
    ctx.restore();
  }
}
