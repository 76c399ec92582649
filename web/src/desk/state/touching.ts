import type { Laid, SourceSet } from "../canvas/touching";

export const TOUCHING = {
  /** How much of what is missing a stroke adds, per cent. */
  strength: 100,
  /** Where clone and heal copy from; to is set by the first stroke, and stays for the next ones if they are aligned. */
  source: null as SourceSet | null,
  aligned: true,
  mirror: false,
  turn: 0,
  /** The key that sets the source by a click while it is held. */
  sourcing: false,
  /** Strokes that are made but not to be seen in the picture yet. */
  laid: [] as Laid[],
  /** What is pointed out about the last stroke. */
  cautions: [] as string[],
};
