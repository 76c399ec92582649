import type { Desk } from "../../api/client";
import { isBusy } from "./sweeps";

/** How far a removal of several things is: how many are done of how many, and the seconds left, null while nobody can
 * tell; the runs that are still open. */
export type Progress = { done: number; of: number; share: number; left: number | null; runs: number[] };

/** How far sweeps that were asked for together are, so many seconds after that; null once none is open any more. */
export function progressOf(desk: Pick<Desk, "sweeps">, sweeps: string[], seconds: number): Progress | null {
  const own = desk.sweeps.filter((each) => sweeps.includes(each.id));
  const open = own.filter(isBusy);
  if (!open.length) return null;
  const done = own.length - open.length;
  const share = (done + open.reduce((sum, each) => sum + (each.run?.progress ?? 0), 0)) / own.length;
  return {
    done,
    of: own.length,
    share,
    left: share > 0.05 ? (seconds * (1 - share)) / share : null,
    runs: open.flatMap((each) => (each.run ? [each.run.id] : [])),
  };
}
