import type { Step } from "../../api/client";
import * as words from "../../words/words";

/** Steps, newest first as they come, those that go on with the strokes of one mark together; the present one ends what is together,
 * so that it is always to be seen. */
export function together(steps: readonly Step[]): Step[][] {
  const out: Step[][] = [];
  for (const step of steps) {
    const group = out.at(-1);
    const later = group?.at(-1);
    const goesOn =
      later?.sweep === step.sweep &&
      later.parent === step.revision &&
      later.on === step.on &&
      !step.now &&
      later.stroke &&
      step.stroke;
    if (goesOn) group?.push(step);
    else out.push([step]);
  }
  return out;
}

/** What was done in a step, or in several together. */
export function told(step: Step, strokes = 1): string {
  if (step.parent === null) return words.reading.asShot;
  return strokes > 1 ? `${step.subject}: ${words.reading.moreStrokes(strokes)}` : step.title;
}
