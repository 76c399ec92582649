import * as words from "../../../words/words";
import { chosenBy } from "../../reading/chosenBy";
import { carriedTo, doubts, nextDoubt, waiting } from "../../reading/series";
import { type At, type Command, switches } from "./command";

const source = ({ state, desk }: At) => state.strip ?? desk.frame.id;
const atSource = (at: At) => at.state.strip === at.desk.frame.id;
const neighbour = (by: number) => (at: At) => {
  const frames = at.desk.neighbours.map((each) => each.id);
  return frames[frames.indexOf(at.desk.frame.id) + by];
};
const goes = (by: number): Pick<Command, "can" | "does" | "repeats"> => ({
  repeats: true,
  can: (at) => neighbour(by)(at) !== undefined,
  does: (at) => {
    const to = neighbour(by)(at);
    if (to !== undefined) at.go(to);
  },
});
/** The frames that are chosen, or all: never the one that is carried from. */
const wanted = (at: At) => at.state.sisters.filter((each) => each !== source(at));

export const carrying = {
  strip: {
    ...words.commands.strip,
    key: "F8",
    can: ({ desk }) => desk.neighbours.length > 1,
    does: ({ state, desk }) => state.set({ strip: state.strip === null ? desk.frame.id : null, sisters: [] }),
    on: ({ state }) => state.strip !== null,
  },
  carry: {
    ...words.commands.carry,
    key: "ctrl Enter",
    shown: words.keys.ctrlEnter,
    can: (at) => atSource(at) && at.desk.sweeps.length > 0,
    does: (at) => at.actions.carry(at.sweep ? [at.sweep.id] : [], wanted(at)),
  },
  carryAndFill: {
    ...words.commands.carryAndFill,
    key: "ctrl shift Enter",
    shown: words.keys.ctrlShiftEnter,
    can: (at) => atSource(at) && at.desk.sweeps.length > 0,
    does: (at) => at.actions.carry(at.sweep ? [at.sweep.id] : [], wanted(at), { fill: true }),
  },
  contactSheet: {
    ...words.commands.contactSheet,
    key: "F9",
    can: ({ series }) => carriedTo(series ?? []).length > 0,
    ...switches("contactSheet"),
  },
  fillSeries: {
    ...words.commands.fillSeries,
    key: "F10",
    can: (at) => at.state.strip !== null && waiting(at.series ?? [], wanted(at), source(at)) > 0,
    does: (at) => at.actions.fillSeries(source(at), wanted(at)),
  },
  settle: {
    ...words.commands.settle,
    key: "Enter",
    can: ({ sweep }) => sweep?.carried?.doubtful === true && sweep.takes.length === 0,
    does: (at) => {
      if (!at.sweep) return;
      const next = nextDoubt(at.series ?? [], at.desk.frame.id, at.sweep.id);
      at.actions.settleSweep(at.sweep.id);
      if (next && next.sweep !== at.sweep.id) at.go(next.frame, next.sweep);
    },
  },
  nextDoubtful: {
    ...words.commands.nextDoubtful,
    key: "/",
    can: ({ series }) => doubts(series ?? []).length > 0,
    does: (at) => {
      const next = nextDoubt(at.series ?? [], at.desk.frame.id, at.state.selected);
      if (next) at.go(next.frame, next.sweep);
    },
  },
  previousFrame: {
    ...words.commands.previousFrame,
    key: "PageUp",
    shown: words.keys.pageUp,
    ...goes(-1),
  },
  nextFrame: { ...words.commands.nextFrame, key: "PageDown", shown: words.keys.pageDown, ...goes(1) },
} satisfies Record<string, Command>;

/** A click on a frame of the strip: opened, or chosen with Shift or Ctrl. */
export function clicked(
  at: At,
  frame: number,
  event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean },
) {
  const one = event.ctrlKey || event.metaKey;
  if (!event.shiftKey && !one) return at.go(frame);
  const order = (at.series ?? []).map((each) => each.id);
  const from = at.state.sisters.length ? at.state.sisters : event.shiftKey ? [at.desk.frame.id] : [];
  at.state.set({ sisters: chosenBy(order, from, frame, { shift: event.shiftKey, one }) });
}
