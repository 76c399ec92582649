import { create } from "zustand";
import { useShallow } from "zustand/react/shallow";
import type { Drawable, Grain, HowToFill, Quote, SecondThoughts, TouchBrush } from "../../api/client";
import type { MaskLook } from "../canvas/hatch";
import type { Laid, SourceSet } from "../canvas/touching";
import type { Step } from "../reading/guide";
import type { Compare } from "../reading/look";
import type { Count } from "../wall/arrange";

/** A shape on its way to the server; sweep null starts a new one. */
export type Pending = { key: number; sweep: string | null; mark: number; shape: Drawable };
export type Surround = "grey" | "dark" | "light";
export type Tool = "brush" | "outline" | "corners" | "box" | "pieces" | TouchBrush;

/** A fill as it was asked for, and what it would cost. */
export type Offer = { sweep: string; how: HowToFill; quote: Quote };

export type DeskState = {
  /** What the panel on the left shows. */
  sheet: "job" | "finds" | "history";
  /** The find that is chosen on its sheet: what is painted belongs to it. */
  find: number | null;
  /** Dust that is kept is kept in all frames at once. */
  everywhere: boolean;
  /** The next box points out a person. */
  pointing: boolean;
  /** The next box is the patch that the chosen sweep draws from. */
  grounding: boolean;
  /** A fill that costs something, until somebody says yes or no. */
  offer: Offer | null;
  /** The sweeps whose fills are being priced, or wait for that. */
  pricing: string[];
  /** The harsh-light view with its threshold in per cent of light. */
  harsh: number | null;
  /** How the take that stands is compared with another one; 0 is as shot. */
  compare: Compare;
  against: number;
  /** All takes hang side by side; which are out; how many at a time. */
  wall: boolean;
  out: number[];
  hang: Count;
  /** Where the line between the two is, as a share of the room; and which of the two blinks up. */
  line: number;
  blinked: boolean;
  /** What is painted shows the other take there. */
  mixing: boolean;
  /** How wide the picture will be when people look at it, in screen pixels. */
  delivery: number;
  /** The reflection that was taken off, by itself. */
  alone: boolean;
  /** The snag that was gone to. */
  snag: number | null;
  /** The frame that the strip shows the series of, while it is shown; and the frames that are chosen on it. */
  strip: number | null;
  sisters: number[];
  contactSheet: boolean;
  selected: string | null;
  /** Other sweeps that "before" leaves out too. */
  also: string[];
  /** The take looked at in place: its id, 0 for as shot, null for the one in use. */
  viewed: number | null;
  tool: Tool;
  size: number;
  softness: number;
  grain: Grain;
  /** Of a touch-up brush: how much of what is missing a stroke adds, per cent. */
  strength: number;
  /** Where clone and heal copy from; to is set by the first stroke, and stays for the next ones if they are aligned. */
  source: SourceSet | null;
  aligned: boolean;
  mirror: boolean;
  turn: number;
  /** The key that sets the source by a click while it is held. */
  sourcing: boolean;
  /** Touch-up strokes that are made but not to be seen in the picture yet. */
  laid: Laid[];
  /** What is pointed out about the last stroke. */
  cautions: string[];
  /** What seems to belong to the chosen mark too, as far as it was not left. */
  proposed: SecondThoughts["proposals"][number]["area"][];
  erase: boolean;
  flipped: boolean;
  /** What is drawn is tightened to the thing under it. */
  cling: boolean;
  /** What is drawn guards instead of marking. */
  guarding: boolean;
  /** Fill at the end of each stroke. */
  fillAtOnce: boolean;
  /** The key that fills at once while it is held. */
  instant: boolean;
  /** Where the brush was moved to by keys, in picture pixels, and whether it is down. */
  brushAt: { x: number; y: number; isDown: boolean } | null;
  /** How large the picture is seen, 1 for full size. */
  zoom: number;
  hand: boolean;
  sizing: boolean;
  asShot: boolean;
  before: boolean;
  masks: boolean;
  maskAlone: boolean;
  look: MaskLook;
  folded: boolean;
  /** How far panels reach, in pixels, and which are folded away. */
  sheetWide: number;
  trayTall: number;
  sheetFolded: boolean;
  trayFolded: boolean;
  help: boolean;
  /** Which steps of the first minute are known. */
  learned: Step[];
  pending: Pending[];
  /** Which mark is being drawn, counted from the first. */
  mark: number;
  problem: string | null;
  /** What was just taken away, and how it comes back if not by undo. */
  taken: { says: string; back?: () => void } | null;
  /** What was done elsewhere than on the screen. */
  done: string | null;
  surround: Surround;
  set: (change: Partial<Omit<DeskState, "set" | "select">>) => void;
  /** Choose a sweep, or none. What is drawn next is a mark of its own, unless it belongs to one that is being drawn. */
  select: (sweep: string | null, mark?: number) => void;
};

export const SURROUNDS: Record<Surround, string> = { grey: "#757575", dark: "#2b2b2b", light: "#d6d6d6" };
/** Colours that stand out from one kind of picture or another. */
export const COLOURS: [string, string][] = [
  ["#f2a71b", "marigold"],
  ["#e5386d", "raspberry"],
  ["#18a7b5", "lagoon"],
  ["#5f7d0a", "moss"],
  ["#ffffff", "white"],
];

/** What is remembered from one visit to the next. */
const REMEMBERED = [
  "surround",
  "look",
  "fillAtOnce",
  "cling",
  "delivery",
  "hang",
  "sheetWide",
  "trayTall",
  "sheetFolded",
  "trayFolded",
  "learned",
] as const;

function kept<T>(name: (typeof REMEMBERED)[number], otherwise: T): T {
  try {
    return (JSON.parse(localStorage.getItem(`desk.${name}`) ?? "null") as T | null) ?? otherwise;
  } catch {
    return otherwise;
  }
}

/** What one window shows of the desk; all that lasts is on the server. */
export const useDeskState = create<DeskState>((set) => ({
  sheet: "job",
  find: null,
  everywhere: false,
  pointing: false,
  grounding: false,
  offer: null,
  pricing: [],
  harsh: null,
  compare: "off",
  against: 0,
  line: 0.5,
  blinked: false,
  mixing: false,
  delivery: kept<number>("delivery", 2048),
  alone: false,
  snag: null,
  strip: null,
  sisters: [],
  contactSheet: false,
  selected: null,
  also: [],
  viewed: null,
  tool: "brush",
  size: 48,
  softness: 0,
  grain: "medium",
  strength: 100,
  source: null,
  aligned: true,
  mirror: false,
  turn: 0,
  sourcing: false,
  laid: [],
  cautions: [],
  proposed: [],
  erase: false,
  flipped: false,
  cling: kept<boolean>("cling", true),
  guarding: false,
  fillAtOnce: kept<boolean>("fillAtOnce", false),
  instant: false,
  brushAt: null,
  zoom: 1,
  hand: false,
  sizing: false,
  asShot: false,
  before: false,
  masks: true,
  maskAlone: false,
  look: kept<MaskLook>("look", { colour: "#f2a71b", strength: 0.85, pattern: "hatch" }),
  folded: false,
  sheetWide: kept<number>("sheetWide", 216),
  trayTall: kept<number>("trayTall", 0),
  sheetFolded: kept<boolean>("sheetFolded", false),
  trayFolded: kept<boolean>("trayFolded", false),
  help: false,
  learned: kept<Step[]>("learned", []),
  pending: [],
  wall: false,
  out: [],
  hang: kept<Count>("hang", "all"),
  mark: 0,
  problem: null,
  done: null,
  taken: null,
  surround: kept<Surround>("surround", "grey"),
  set: (change) => {
    for (const name of REMEMBERED) {
      if (name in change) localStorage.setItem(`desk.${name}`, JSON.stringify(change[name]));
    }
    set(change);
  },
  select: (sweep, mark) =>
    set((known) => ({
      mark: mark ?? known.mark + 1,
      selected: sweep,
      grounding: false,
      offer: null,
      also: [],
      viewed: null,
      snag: null,
      alone: false,
      compare: "off",
      against: 0,
      mixing: false,
      // The next one hangs on the wall as soon as it has takes.
      out: [],
    })),
}));

/** Some of the state: whoever reads no more than that is drawn anew only when it changes. */
export function useStateOf<K extends keyof DeskState>(...names: K[]): Pick<DeskState, K> {
  return useDeskState(
    useShallow((state) => Object.fromEntries(names.map((name) => [name, state[name]])) as Pick<DeskState, K>),
  );
}
