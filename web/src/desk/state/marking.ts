import type { Drawable, PieceSize, SecondThoughts, TouchBrush } from "../../api/client";
import { kept } from "./remembered";

export type Tool = "brush" | "outline" | "corners" | "box" | "pieces" | TouchBrush;
/** A shape on its way to the server; sweep null starts a new one. */
export type Pending = { key: number; sweep: string | null; mark: number; shape: Drawable };

export const MARKING = {
  tool: "brush" as Tool,
  size: 48,
  /** The size that the brush was given when a picture was opened: as long as nobody changed it, the next one sets its own. */
  ownSize: 48,
  softness: 0,
  pieceSize: "medium" as PieceSize,
  erase: false,
  flipped: false,
  /** What is drawn is tightened to the thing under it. */
  cling: kept("cling", true),
  /** What is drawn guards instead of marking. */
  guarding: false,
  /** The brush is being made wider or narrower. */
  sizing: false,
  /** Fill at the end of each stroke. */
  fillAtOnce: kept("fillAtOnce", false),
  /** The key that fills at once while it is held. */
  instant: false,
  /** Where the brush was moved to by keys, in picture pixels, and whether it is down. */
  brushAt: null as { x: number; y: number; isDown: boolean } | null,
  pending: [] as Pending[],
  /** Which mark is being drawn, counted from the first. */
  mark: 0,
  /** What seems to belong to the chosen mark too, as far as it was not left. */
  proposed: [] as SecondThoughts["proposals"][number]["area"][],
  /** People whom the mark reaches into though they stay, by their finds. */
  strays: [] as number[],
  /** How many takes a fill makes, and the seed of the first; null for the next one that is free. */
  takes: kept("takes", 3),
  seed: null as number | null,
  /** The find that is chosen on its sheet: what is painted belongs to it. */
  find: null as number | null,
  /** Dust that is kept is kept in all frames at once. */
  everywhere: false,
  /** The next box points out a person. */
  pointing: false,
  /** The sweeps whose fills are being priced, or wait for that. */
  pricing: [] as string[],
};
