import type { Find, Scouts } from "../../api/client";
import * as words from "../../words/words";

export type Kind = Find["kind"];
/** The scouts in the order of the panel, and what their finds are called together. */
export const KINDS: [Kind, string][] = [
  ["people", words.reading.people],
  ["things", words.reading.things],
  ["wires", words.reading.wires],
  ["specks", words.reading.specks],
  ["backdrop", words.reading.backdrop],
];

/** How far a scout is, in a word or two. */
export function progressOf(scouts: Scouts, kind: Kind): string {
  const scout = scouts.scouts.find((each) => each.kind === kind);
  if (!scout) return words.reading.notAsked;
  if (scout.state === "waiting") return words.reading.waiting;
  if (scout.state === "running") return words.reading.looking(Math.round(scout.progress * 100));
  if (scout.state === "failed") return words.reading.cannotLook;
  const count = scouts.finds.filter((each) => each.kind === kind).length;
  return count ? words.reading.found(count) : words.reading.noneLeft;
}

/** What is still being looked for. */
export const stillLooking = (scouts: Scouts): string[] =>
  KINDS.filter(([kind]) =>
    scouts.scouts.some(
      (each) => each.kind === kind && (each.state === "waiting" || each.state === "running"),
    ),
  ).map(([, title]) => title);

export const chosenFinds = (scouts: Scouts | undefined): Find[] =>
  (scouts?.finds ?? []).filter((each) => each.goes);

/** Finds that sit at the same place of the sensor in other frames too: dust. */
export const isDust = (find: Find) => find.kind === "specks" && find.frames > 1;
