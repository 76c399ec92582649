import { useDeskState } from "../../state/state";
import { copiedFrom, isTouch, type Laid, paintLaid, paintSource, sourceAt } from "../touching";
import type { Scene } from "./scene";

/** What there is to be seen round a point that is copied from; null while that has to be fetched. */
export type StillOf = (point: [number, number]) => Laid["still"] | null;

/** Touch-up strokes on their way into the picture, what the brush would lay, and where it copies from. */
export function paintTouch({ ctx, at, density, drawing }: Scene, sourceStill: StillOf) {
  const state = useDeskState.getState();
  if (state.asShot || state.before) return;
  for (const each of state.laid) paintLaid(ctx, each, at);
  if (drawing.laid) paintLaid(ctx, drawing.laid, at);
  const { tool, size, softness, strength } = state;
  if (!isTouch(tool) || state.hand || !drawing.pointer) return;
  const pointer: [number, number] = [
    (drawing.pointer.x * density - at.x) / at.scale,
    (drawing.pointer.y * density - at.y) / at.scale,
  ];
  const source = drawing.laid ? drawing.laid.source : sourceAt(state, pointer);
  if (!source) {
    if (state.source && tool !== "bring back") paintSource(ctx, state.source.at, at, density);
    return;
  }
  if (!drawing.laid && !state.sourcing) {
    // Before anything is painted, what would be.
    const stroke = { kind: "stroke" as const, points: [pointer], size, softness, erase: false };
    const still = sourceStill(copiedFrom(source, pointer));
    if (still) paintLaid(ctx, { brush: tool, stroke, source, strength, still, revision: null }, at);
  }
  paintSource(ctx, copiedFrom(source, pointer), at, density);
}
