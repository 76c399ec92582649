import type { Desk, Standing } from "../api/client";
import { counted } from "../theme/counted";

const some = (count: number, one: string, many: string) => (count ? [counted(count, one, many)] : []);

/** What of a picture is still open before it is delivered, in a sentence; nothing if nothing is. */
export function openIn(sweeps: Desk["sweeps"]): string {
  const shown = sweeps.filter((each) => each.shown && each.pick === null);
  const choose = shown.filter((each) => each.takes.length > 0).length;
  const fill = shown.length - choose;
  const parts = [
    ...some(choose, "sweep is still to choose", "sweeps are still to choose"),
    ...some(fill, "is marked and not filled", "are marked and not filled"),
  ];
  return parts.length ? `${parts.join(", ")}: there the picture goes out as shot.` : "";
}

/** States of a frame in which something is still to be done. */
const OPEN: Standing["state"][] = ["doubtful", "filling", "to choose", "marked"];

/** The same of several pictures. */
export function openAmong(standings: Standing[]): string {
  const open = standings.filter((each) => OPEN.includes(each.state)).length;
  return open
    ? `In ${open} of ${standings.length} pictures something is still to look at, to fill or to choose.`
    : "";
}
