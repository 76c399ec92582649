import { create } from "zustand";
import type { Stroke } from "../api/client";

/** A stroke on its way to the server; sweep null starts a new one. */
export type Pending = { key: number; sweep: string | null; stroke: Stroke };
export type Surround = "grey" | "dark" | "light";

type DeskState = {
  selected: string | null;
  /** The take looked at in place: its id, 0 for as shot, null for the one in use. */
  viewed: number | null;
  size: number;
  softness: number;
  erase: boolean;
  flipped: boolean;
  hand: boolean;
  asShot: boolean;
  before: boolean;
  masks: boolean;
  folded: boolean;
  help: boolean;
  pending: Pending[];
  problem: string | null;
  surround: Surround;
  set: (change: Partial<Omit<DeskState, "set" | "select">>) => void;
  select: (sweep: string | null) => void;
};

export const SURROUNDS: Record<Surround, string> = { grey: "#757575", dark: "#2b2b2b", light: "#d6d6d6" };

const kept = () => (localStorage.getItem("surround") as Surround | null) ?? "grey";

/** What one window shows of the desk; all that lasts is on the server. */
export const useDeskState = create<DeskState>((set) => ({
  selected: null,
  viewed: null,
  size: 48,
  softness: 0,
  erase: false,
  flipped: false,
  hand: false,
  asShot: false,
  before: false,
  masks: true,
  folded: false,
  help: false,
  pending: [],
  problem: null,
  surround: kept(),
  set: (change) => {
    if (change.surround) localStorage.setItem("surround", change.surround);
    set(change);
  },
  select: (sweep) => set({ selected: sweep, viewed: null }),
}));
