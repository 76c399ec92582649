import type { Desk, Standing } from "../api/client";

import * as words from "../words/words";

/** What of a picture is still open before it is delivered, in a sentence; nothing if nothing is. */
export function openIn(sweeps: Desk["sweeps"]): string {
  const shown = sweeps.filter((each) => each.shown && each.standing === null && each.state !== "as shot");
  const choose = shown.filter((each) => each.takes.length > 0).length;
  const fill = shown.length - choose;
  const parts = [
    choose ? words.deliver.stillToChoose(choose) : "",
    fill ? words.deliver.stillToFill(fill) : "",
  ].filter(Boolean);
  return parts.length ? words.deliver.thereAsShot(parts.join(", ")) : "";
}

/** States of a frame in which something is still to be done. */
const OPEN: Standing["state"][] = ["doubtful", "filling", "to choose", "marked"];

/** The same of several pictures. */
export function openAmong(standings: Standing[]): string {
  const open = standings.filter((each) => OPEN.includes(each.state)).length;
  return open ? words.deliver.openAmong(open, standings.length) : "";
}

/** How many sweeps go out with a take that nobody has picked, and the address where the first of them is looked at. */
export type Provisional = { sweeps: number; at: string };

export function provisionalIn(frame: number, sweeps: Desk["sweeps"]): Provisional {
  const some = sweeps.filter((each) => each.shown && each.provisional);
  return { sweeps: some.length, at: `/frames/${frame}?sweep=${some[0]?.number}` };
}

/** The same of several pictures. */
export function provisionalAmong(standings: Standing[]): Provisional {
  const some = standings.filter((each) => each.provisional > 0);
  const sweeps = some.reduce((total, each) => total + each.provisional, 0);
  return { sweeps, at: `/frames/${some[0]?.id}` };
}
