import type { Find, Scouts } from "../../api/client";

export type Kind = Find["kind"];
/** The scouts in the order of the panel, and what their finds are called together. */
export const KINDS: [Kind, string][] = [
  ["people", "People"],
  ["things", "Things"],
  ["wires", "Wires"],
  ["specks", "Specks"],
  ["backdrop", "Backdrop"],
];

/** How far a scout is, in a word or two. */
export function progressOf(scouts: Scouts, kind: Kind): string {
  const scout = scouts.scouts.find((each) => each.kind === kind);
  if (!scout) return "not asked";
  if (scout.state === "waiting") return "waiting";
  if (scout.state === "running") return `looking, ${Math.round(scout.progress * 100)} %`;
  if (scout.state === "failed") return "cannot look";
  const count = scouts.finds.filter((each) => each.kind === kind).length;
  return count ? `${count} found` : "none left";
}

export const chosenFinds = (scouts: Scouts | undefined): Find[] =>
  (scouts?.finds ?? []).filter((each) => each.goes);

/** Finds that sit at the same place of the sensor in other frames too: dust. */
export const isDust = (find: Find) => find.kind === "specks" && find.frames > 1;
