import type { Desk, Sweep } from "../../api/client";
import * as words from "../../words/words";
import { isBusy } from "./sweeps";

/** The steps of a newcomer's first minute, in their order. */
export const STEPS = ["mark", "fill", "wait", "choose", "judge"] as const;
export type Step = (typeof STEPS)[number];

/** What is said at each step: what the hand does next, and by which key. */
export const SAYS: Record<Step, string> = {
  mark: words.reading.mark,
  fill: words.reading.fill,
  wait: words.reading.wait,
  choose: words.reading.choose,
  judge: words.reading.judge,
};

/** The step that the hand is at. */
export function stepOf(desk: Pick<Desk, "sweeps">, sweep: Sweep | undefined): Step {
  if (!sweep) return desk.sweeps.some((each) => each.standing !== null) ? "judge" : "mark";
  if (!sweep.takes.length) return isBusy(sweep) ? "wait" : "fill";
  return sweep.pick === null && sweep.state !== "as shot" ? "choose" : "judge";
}

/** The steps that are known once this one is reached: those before it. */
export const stepsBefore = (step: Step): Step[] => STEPS.slice(0, STEPS.indexOf(step));
