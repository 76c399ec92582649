import type { Desk, Sweep } from "../../api/client";

export const isBusy = (sweep: Sweep) =>
  sweep.state === "waiting" || sweep.state === "filling" || sweep.state === "stopping";

/** Whether its fill heeds lines drawn through its mask. */
export const canLead = (sweep: Sweep) =>
  sweep.shapes > 0 && (sweep.method === "auto" || sweep.method === "weave");

export const chosen = (desk: Desk, selected: string | null): Sweep | undefined =>
  desk.sweeps.find((sweep) => sweep.id === selected);

/** The take so many places after one, as shot being the first, round and round. */
export function takeAfter(sweep: Sweep, at: number, by: number): number {
  const order = [0, ...sweep.takes.map((take) => take.id)];
  return order[(order.indexOf(at) + by + order.length) % order.length] ?? 0;
}

/** The take to compare with after the one that is: another than the one that stands. */
export function againstAfter(sweep: Sweep, stands: number, against: number): number {
  const others = [0, ...sweep.takes.map((take) => take.id)].filter((take) => take !== stands);
  return others[(others.indexOf(against) + 1) % others.length] ?? 0;
}

/** The sweep before or after the chosen one, in the order of the list. */
export function sweepAfter(desk: Desk, selected: string | null, by: number): Sweep | undefined {
  const at = desk.sweeps.findIndex((sweep) => sweep.id === selected);
  return desk.sweeps[Math.min(Math.max(at + by, 0), desk.sweeps.length - 1)];
}

/** Whether the photographer has decided for a take of a sweep, 0 for as shot. */
export const isDecided = (sweep: Sweep, take: number): boolean =>
  take === 0 ? sweep.state === "as shot" : sweep.pick === take;
