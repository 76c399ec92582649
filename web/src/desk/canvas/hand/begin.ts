import { useDeskState } from "../../state/state";
import { isTouch } from "../touching";
import { corner } from "./corners";
import type { Gesture, Ground } from "./gesture";
import { lining, nearLine, panning, sizing } from "./moving";
import { shaping } from "./shaping";
import { strokingPieces } from "./strokingPieces";
import { touchingUp } from "./touchingUp";

/** What a pointer that comes down begins: by its button, by what it is on, and by the tool. */
export function begin(ground: Ground, down: PointerEvent): Gesture | null {
  const { hand, asShot, sizing: wider, tool } = useDeskState.getState();
  if (down.button === 1 || hand) return panning(ground, down);
  if (down.button !== 0 || asShot) return null;
  if (nearLine(ground, down)) return lining(ground);
  if (wider) return sizing(ground, down);
  if (isTouch(tool)) return touchingUp(ground, down);
  if (tool === "corners") return corner(ground, down);
  if (tool === "pieces") return strokingPieces(ground, down);
  return shaping(ground, down);
}
