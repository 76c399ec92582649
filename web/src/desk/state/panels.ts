import type { Step } from "../reading/guide";
import { kept } from "./remembered";

export const PANELS = {
  /** What the panel on the left shows. */
  sheet: "job" as "job" | "finds" | "history",
  /** The frame that the strip shows the series of, while it is shown; and the frames that are chosen on it. */
  strip: null as number | null,
  sisters: [] as number[],
  contactSheet: false,
  folded: false,
  /** What is seldom asked for of a mark is shown. */
  shaping: kept("shaping", false),
  /** How far panels reach, in pixels, and which are folded away. */
  sheetWide: kept("sheetWide", 216),
  trayTall: kept("trayTall", 0),
  sheetFolded: kept("sheetFolded", false),
  trayFolded: kept("trayFolded", false),
  help: false,
  /** Which steps of the first minute are known. */
  learned: kept<Step[]>("learned", []),
  /** Sweeps that were asked for together, and since when, in ms. */
  removing: null as { sweeps: string[]; since: number } | null,
  problem: null as string | null,
  /** What was just taken away, or looks wrong; and how it is put right if not by undo, under its own name. */
  taken: null as { says: string; back?: () => void; act?: string } | null,
  /** What was done elsewhere than on the screen. */
  done: null as string | null,
};
