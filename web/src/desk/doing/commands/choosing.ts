import type { Snag } from "../../../api/client";
import { type Compare, standing } from "../../reading/look";
import { faultsOf, openSnags } from "../../reading/snags";
import { againstAfter, isBusy, sweepAfter, takeAfter } from "../../reading/sweeps";
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
const compares = (how: Compare, label: string, key: string, says: string): Command => ({
  label,
  says,
  key,
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
    label: "‹",
    says: "Previous take, in place",
    key: ",",
    repeats: true,
    can: filled,
    does: step(-1),
  },
  nextTake: { label: "›", says: "Next take, in place", key: ".", repeats: true, can: filled, does: step(1) },
  wall: {
    label: "Wall",
    says: "All takes side by side, moved together; and back to the desk",
    key: "F2",
    can: filled,
    ...switches("wall"),
  },
  out: {
    label: "Out",
    says: "This take is out, or is in again; the next one is looked at",
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
    label: "Pick this take",
    says: "Use the take that shows",
    key: "Enter",
    can: (at) => filled(at) && at.state.offer === null && stands(at) !== (at.sweep?.pick ?? -1),
    does: (at) => at.sweep && at.actions.pick(at.sweep, stands(at)),
  },
  split: compares(
    "split",
    "Split",
    "r",
    "The other one left of a line, this take right of it: move the line",
  ),
  blink: compares("blink", "Blink", "e", "Two takes one after the other, in place"),
  difference: compares(
    "difference",
    "Difference",
    "d",
    "What is not the same in two takes, four times as strong; grey is equal",
  ),
  against: {
    label: "Against",
    says: "Compare with the next take; the first is as shot",
    key: "w",
    can: filled,
    does: (at) => at.sweep && at.state.set({ against: againstAfter(at.sweep, stands(at), at.state.against) }),
  },
  mix: {
    label: "Mix",
    says: "Paint where the other take shows; the mix is a take of its own",
    key: "x",
    can: filled,
    ...switches("mixing"),
  },
  favourite: {
    label: "Favourite",
    says: "The take that shows is a favourite, or no longer",
    key: "*",
    can: (at) => takeThatStands(at) !== undefined,
    does: (at) => {
      const take = takeThatStands(at);
      if (take) at.actions.favour(take.id, !take.favourite);
    },
  },
  before: {
    label: "Before",
    says: "This sweep as shot, and those chosen with Shift and click",
    key: "b",
    can: filled,
    ...held("before"),
  },
  alone: {
    label: "Alone",
    says: "The reflection that was taken off, by itself",
    key: "l",
    can: (at) => filled(at) && at.sweep?.method === "reflection",
    ...switches("alone"),
  },
  nextSnag: {
    label: "Next",
    says: "Second look: the next snag, at 100 %",
    key: ";",
    does: ({ actions, viewer }) => actions.nextSnag(viewer),
  },
  mend: {
    label: "Mend",
    says: "Do what the snag that was gone to proposes",
    key: "'",
    can: (at) => snag(at) !== undefined,
    does: (at) => {
      const found = snag(at);
      if (found) at.actions.mend(found);
    },
  },
  mendAll: {
    label: "Mend all",
    says: "Do what all snags of this take propose: grain and tone as a take of its own, the rest filled on top",
    key: '"',
    can: (at) => at.sweep !== undefined && !isBusy(at.sweep) && openSnags(at.sweep, stands(at)).length > 0,
    does: (at) => at.actions.mendAll(stands(at)),
  },
  dismiss: {
    label: "Dismiss",
    says: "The snag is fine: not listed again",
    key: "Backspace",
    can: (at) => snag(at) !== undefined,
    does: (at) => {
      const found = snag(at);
      if (found) at.actions.dismiss(faultOf(at, found));
    },
  },
  previousSweep: {
    label: "Previous sweep",
    says: "The sweep before on the job sheet",
    key: "ArrowUp",
    shown: "↑",
    repeats: true,
    can: ({ desk }) => desk.sweeps.length > 0,
    does: go(-1),
  },
  nextSweep: {
    label: "Next sweep",
    says: "The sweep after on the job sheet",
    key: "ArrowDown",
    shown: "↓",
    repeats: true,
    can: ({ desk }) => desk.sweeps.length > 0,
    does: go(1),
  },
  shown: {
    label: "Switch",
    says: "The chosen sweep on or off",
    key: "o",
    can: ({ sweep }) => sweep !== undefined,
    does: ({ sweep, actions }) => sweep && actions.change(sweep, { shown: !sweep.shown }),
  },
  remove: {
    label: "Delete",
    says: "Delete the chosen sweep; undo brings it back",
    key: "Delete",
    can: ({ sweep }) => sweep !== undefined,
    does: ({ sweep, actions }) => sweep && actions.remove(sweep),
  },
} satisfies Record<string, Command>;
