import type { Brings, HowToFill, Quote } from "../../api/client";
import type { Compare } from "../reading/look";

/** A fill as it was asked for, and what it would cost. */
export type Offer = { sweep: string; how: HowToFill; quote: Quote };

/** What goes with the sweep that is chosen, and begins anew with the next one. */
export const OF_THE_CHOSEN = {
  /** The next box is the patch that it draws from. */
  grounding: false,
  /** What is drawn leads its fill: an edge that goes on, an arrow that brings a ground, an axis or a row. */
  leading: null as Brings | null,
  /** A fill that costs something, until somebody says yes or no. */
  offer: null as Offer | null,
  /** Other sweeps that "before" leaves out too. */
  also: [] as string[],
  /** The take looked at in place: its id, 0 for as shot, null for the one in use. */
  viewed: null as number | null,
  /** The snag that was gone to. */
  snag: null as number | null,
  /** The reflection that was taken off, by itself. */
  alone: false,
  /** How the take that stands is compared with another one; 0 is as shot. */
  compare: "off" as Compare,
  against: 0,
  /** What is painted shows the other take there. */
  mixing: false,
  /** Takes that are out on the wall; the next sweep hangs there as soon as it has takes. */
  out: [] as number[],
};
