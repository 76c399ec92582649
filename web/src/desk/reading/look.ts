import type { Desk, Sweep } from "../../api/client";
import type { Look, State } from "../../api/views";
import { chosen } from "./sweeps";

/** How two takes are held against each other. */
export type Compare = "off" | "split" | "blink" | "difference";

type Shown = {
  selected: string | null;
  viewed: number | null;
  asShot: boolean;
  before: boolean;
  also?: string[];
  harsh?: number | null;
  alone?: boolean;
  compare?: Compare;
  against?: number;
  blinked?: boolean;
};

/** The take of a sweep that is seen: the one looked at, else the one that stands (picked or provisional), else, where
 * nobody has decided for the picture as shot, the best so far. */
export function standing(sweep: Sweep, viewed: number | null): number {
  if (viewed !== null && (viewed === 0 || sweep.takes.some((take) => take.id === viewed))) return viewed;
  return sweep.standing ?? (sweep.state === "as shot" ? 0 : sweep.best) ?? 0;
}

const known = new Map<string, number>();

/** The first revision seen with the same pixels as the present one: a stroke changes the mask, not the picture, and what
 * was loaded of it stays. */
export function pictured(desk: Pick<Desk, "pixels" | "revision" | "frame">): State {
  const first = known.get(desk.pixels) ?? desk.revision;
  known.set(desk.pixels, first);
  return { revision: first, provisional: desk.frame.provisional };
}

/** What the picture shows now. */
export function lookNow(desk: Desk, shown: Shown): Look {
  const state = pictured(desk);
  if (shown.asShot) return { ...state, shot: true };
  if (shown.harsh != null) return { ...state, harsh: shown.harsh };
  const sweep = chosen(desk, shown.selected);
  if (shown.before && shown.also?.length) {
    return { ...state, without: [...(sweep ? [sweep.id] : []), ...shown.also] };
  }
  if (!sweep?.takes.length) return state;
  if (shown.alone && sweep.method === "reflection") {
    return { ...state, sweep: sweep.id, take: standing(sweep, shown.viewed), alone: true };
  }
  if (shown.before) return { ...state, sweep: sweep.id, take: 0 };
  const take = standing(sweep, shown.viewed);
  if (shown.compare === "difference") {
    return { ...state, sweep: sweep.id, take, unlike: shown.against ?? 0 };
  }
  if (shown.compare === "blink" && shown.blinked) return lookAgainst(desk, sweep, shown.against ?? 0);
  const inUse = sweep.shown ? (sweep.standing ?? 0) : 0;
  // Switched off stays off, unless a take is looked at on purpose.
  if (!sweep.shown && shown.viewed === null) return state;
  return take === inUse ? state : { ...state, sweep: sweep.id, take };
}

/** The take that the standing one is compared with, in its place. */
export function lookAgainst(desk: Desk, sweep: Sweep, against: number): Look {
  return { ...pictured(desk), sweep: sweep.id, take: against };
}

/** What may be looked at next, to be loaded ahead: the other takes of the sweep, and as shot. */
export function looksAhead(desk: Desk, selected: string | null, touching: boolean): Look[] {
  const state = pictured(desk);
  const sweep = chosen(desk, selected);
  const ahead: Look[] = [state, { ...state, shot: true }];
  // Every stroke would load all of them anew.
  if (touching) return ahead;
  if (sweep?.takes.length) {
    ahead.push({ ...state, sweep: sweep.id, take: 0 });
    for (const take of sweep.takes.slice(-6)) {
      if (take.id !== sweep.standing) ahead.push({ ...state, sweep: sweep.id, take: take.id });
    }
  }
  return ahead;
}
