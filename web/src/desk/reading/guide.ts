import type { Desk, Sweep } from "../../api/client";
import { isBusy } from "./sweeps";

/** The steps of a newcomer's first minute, in their order. */
export const STEPS = ["mark", "fill", "wait", "choose", "judge"] as const;
export type Step = (typeof STEPS)[number];

/** What is said at each step: what the hand does next, and by which key. */
export const SAYS: Record<Step, string> = {
  mark: "Paint over what should go: all of it, a little more, and its shadow. Or press J and see what was found.",
  fill: "It is marked. Press F: three takes are made of what may be behind it.",
  wait: "Takes come one by one. Go on marking meanwhile: N begins a new mark.",
  choose:
    "Look at the takes with , and . or hang them side by side with F2. Enter picks the one nobody would notice.",
  judge: "Kept. Press 1 for full size and look at its edges; B shows it as shot. F6 delivers the picture.",
};

/** The step that the hand is at. */
export function stepOf(desk: Pick<Desk, "sweeps">, sweep: Sweep | undefined): Step {
  if (!sweep) return desk.sweeps.some((each) => each.pick !== null) ? "judge" : "mark";
  if (!sweep.takes.length) return isBusy(sweep) ? "wait" : "fill";
  return sweep.pick === null ? "choose" : "judge";
}

/** The steps that are known once this one is reached: those before it. */
export const stepsBefore = (step: Step): Step[] => STEPS.slice(0, STEPS.indexOf(step));
