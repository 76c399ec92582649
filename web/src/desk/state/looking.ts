import type { MaskLook } from "../canvas/hatch";
import type { Count } from "../wall/arrange";
import { kept } from "./remembered";

export type Surround = "grey" | "dark" | "light";

export const SURROUNDS: Record<Surround, string> = { grey: "#757575", dark: "#2b2b2b", light: "#d6d6d6" };
/** Colours that stand out from one kind of picture or another. */
export const COLOURS: [string, "marigold" | "raspberry" | "lagoon" | "moss" | "white"][] = [
  ["#f2a71b", "marigold"],
  ["#e5386d", "raspberry"],
  ["#18a7b5", "lagoon"],
  ["#5f7d0a", "moss"],
  ["#ffffff", "white"],
];

export const LOOKING = {
  /** How large the picture is seen, 1 for full size. */
  zoom: 1,
  hand: false,
  asShot: false,
  before: false,
  masks: true,
  maskAlone: false,
  look: kept<MaskLook>("look", { colour: "#f2a71b", strength: 0.85, pattern: "hatch" }),
  surround: kept<Surround>("surround", "grey"),
  /** The harsh-light view with its threshold in per cent of light. */
  harsh: null as number | null,
  /** All takes hang side by side; how many at a time. */
  wall: false,
  hang: kept<Count>("hang", "all"),
  /** Where the line between two takes is, as a share of the room; and which of the two blinks up. */
  line: 0.5,
  blinked: false,
  /** How wide the picture will be when people look at it, in screen pixels. */
  delivery: kept("delivery", 2048),
};
