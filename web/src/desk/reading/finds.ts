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

/** What goes when one kind is removed in one go: its ticked finds, or all but the subject if none is ticked; and what is
 * asked about first: poles that would carry nothing, and how many of the finds have a shadow or mirror image that is not
 * with them yet. */
export type Removal = { finds: number[]; poles: number[]; belongings: number };

export function removalOf(scouts: Scouts, kind: Kind): Removal {
  const own = scouts.finds.filter((each) => each.kind === kind);
  const ticked = own.filter((each) => each.goes);
  const poles = own.filter((each) => each.what === "pole" && !each.goes);
  const going = ticked.length ? ticked : own.filter((each) => !each.subject && !poles.includes(each));
  const left = (find: Find) => Object.keys(find.also).length > find.with_also.length;
  return {
    finds: going.map((each) => each.id),
    poles: going.length ? poles.map((each) => each.id) : [],
    belongings: going.filter(left).length,
  };
}
