import type { Snag } from "../../../api/client";
import * as words from "../../../words/words";
import { type Compare, standing } from "../../reading/look";
import { faultsOf, openSnags } from "../../reading/snags";
import { againstAfter, isBusy, isDecided, sweepAfter, takeAfter } from "../../reading/sweeps";
import { type At, type Command, held, switches } from "./command";

const filled = ({ sweep }: At) => sweep !== undefined && sweep.takes.length > 0;
const stands = ({ sweep, state }: At) => (sweep ? standing(sweep, state.viewed) : 0);
const step = (by: number) => (at: At) => {
  if (at.sweep) at.state.set({ viewed: takeAfter(at.sweep, stands(at), by) });
};
const go =
  (by: number) =>
  ({ desk, state }: At) => {
    const next = sweepAfter(desk, state.selected, by);
    if (next) state.select(next.id);
  };
/** A way to compare, or off if it is on already. */
const compares = (how: Compare): Pick<Command, "can" | "does" | "on"> => ({
  can: filled,
  does: ({ state }) => state.set({ compare: state.compare === how ? "off" : how, blinked: false }),
  on: ({ state }) => state.compare === how,
});
const takeThatStands = (at: At) => at.sweep?.takes.find((each) => each.id === stands(at));
/** All that is listed as one with a snag. */
const faultOf = (at: At, found: Snag) =>
  faultsOf(at.sweep ? openSnags(at.sweep, found.take) : []).find(({ all }) => all.includes(found))?.all ?? [
    found,
  ];
/** The snag that was gone to. */
const snag = ({ sweep, state }: At) => sweep?.snags.find((each) => each.id === state.snag && !each.dismissed);

export const choosing = {
  previousTake: {
    ...words.commands.previousTake,
    key: ",",
    repeats: true,
    can: filled,
    does: step(-1),
  },
  nextTake: { ...words.commands.nextTake, key: ".", repeats: true, can: filled, does: step(1) },
  wall: {
    ...words.commands.wall,
    key: "F2",
    can: filled,
    ...switches("wall"),
  },
  out: {
    ...words.commands.out,
    key: "-",
    can: (at) => filled(at) && at.state.wall,
    does: (at) => {
      const take = stands(at);
      const { out, set } = at.state;
      if (out.includes(take)) return set({ out: out.filter((each) => each !== take) });
      step(1)(at);
      set({ out: [...out, take] });
    },
    on: (at) => at.state.out.includes(stands(at)),
  },
  pick: {
    ...words.commands.pick,
    key: "Enter",
    can: (at) =>
      at.sweep !== undefined && filled(at) && at.state.offer === null && !isDecided(at.sweep, stands(at)),
    does: (at) => at.sweep && at.actions.pick(at.sweep, stands(at)),
  },
  acceptAll: {
    ...words.commands.acceptAll,
    key: "shift Enter",
    shown: words.keys.shiftEnter,
    can: ({ desk }) => desk.sweeps.some((each) => each.provisional),
    does: ({ actions }) => actions.acceptAll(),
  },
  split: { ...words.commands.split, key: "r", ...compares("split") },
  blink: { ...words.commands.blink, key: "e", ...compares("blink") },
  difference: { ...words.commands.difference, key: "d", ...compares("difference") },
  against: {
    ...words.commands.against,
    key: "w",
    can: filled,
    does: (at) => at.sweep && at.state.set({ against: againstAfter(at.sweep, stands(at), at.state.against) }),
  },
  mix: {
    ...words.commands.mix,
    key: "x",
    can: filled,
    ...switches("mixing"),
  },
  favourite: {
    ...words.commands.favourite,
    key: "*",
    can: (at) => takeThatStands(at) !== undefined,
    does: (at) => {
      const take = takeThatStands(at);
      if (take) at.actions.favour(take.id, !take.favourite);
    },
  },
  before: {
    ...words.commands.before,
    key: "b",
    can: filled,
    ...held("before"),
  },
  alone: {
    ...words.commands.alone,
    key: "l",
    can: (at) => filled(at) && at.sweep?.method === "reflection",
    ...switches("alone"),
  },
  nextSnag: {
    ...words.commands.nextSnag,
    key: ";",
    does: ({ actions, viewer }) => actions.nextSnag(viewer),
  },
  mend: {
    ...words.commands.mend,
    key: "'",
    can: (at) => snag(at) !== undefined,
    does: (at) => {
      const found = snag(at);
      if (found) at.actions.mend(found);
    },
  },
  mendAll: {
    ...words.commands.mendAll,
    key: '"',
    can: (at) => at.sweep !== undefined && !isBusy(at.sweep) && openSnags(at.sweep, stands(at)).length > 0,
    does: (at) => at.actions.mendAll(stands(at)),
  },
  dismiss: {
    ...words.commands.dismiss,
    key: "Backspace",
    can: (at) => snag(at) !== undefined,
    does: (at) => {
      const found = snag(at);
      if (found) at.actions.dismiss(faultOf(at, found));
    },
  },
  previousSweep: {
    ...words.commands.previousSweep,
    key: "ArrowUp",
    shown: "↑",
    repeats: true,
    can: ({ desk }) => desk.sweeps.length > 0,
    does: go(-1),
  },
  nextSweep: {
    ...words.commands.nextSweep,
    key: "ArrowDown",
    shown: "↓",
    repeats: true,
    can: ({ desk }) => desk.sweeps.length > 0,
    does: go(1),
  },
  shown: {
    ...words.commands.shown,
    key: "o",
    can: ({ sweep }) => sweep !== undefined,
    does: ({ sweep, actions }) => sweep && actions.change(sweep, { shown: !sweep.shown }),
  },
  remove: {
    ...words.commands.remove,
    key: "Delete",
    can: ({ sweep }) => sweep !== undefined,
    does: ({ sweep, actions }) => sweep && actions.remove(sweep),
  },
} satisfies Record<string, Command>;
