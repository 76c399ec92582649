import * as words from "../../../words/words";
import { type At, type Command, held, switches } from "./command";

/** Whether the picture is at a zoom. */
const at = (ratio: number, { state }: At) => Math.abs(state.zoom / ratio - 1) < 0.01;
const zoom = (ratio: number): Pick<Command, "does" | "on"> => ({
  does: ({ viewer, sweep }) =>
    viewer?.camera.zoomNear(ratio, sweep && sweep.box.width > 0 ? sweep.box : null),
  on: (room) => at(ratio, room),
});

export const looking = {
  fit: { ...words.commands.fit, key: "0", does: ({ viewer }) => viewer?.camera.fit() },
  full: { ...words.commands.full, key: "1", ...zoom(1) },
  twice: { ...words.commands.twice, key: "2", ...zoom(2) },
  back: {
    ...words.commands.back,
    key: "Home",
    does: ({ viewer }) => viewer?.camera.back(),
  },
  delivered: {
    ...words.commands.delivered,
    key: "z",
    does: ({ viewer, state, desk }) => viewer?.camera.zoomTo(state.delivery / desk.frame.width),
    on: (room) => at(room.state.delivery / room.desk.frame.width, room),
  },
  asShot: {
    ...words.commands.asShot,
    key: "a",
    ...held("asShot"),
    does: ({ state }) => state.set({ asShot: !state.asShot }),
  },
  hand: { ...words.commands.hand, key: " ", ...held("hand") },
  fold: { ...words.commands.fold, key: "p", ...switches("folded") },
  undo: {
    label: words.commands.undo.label,
    says: ({ desk }) => words.commands.undo.says(desk.undo),
    key: "ctrl z",
    shown: words.keys.ctrlZ,
    repeats: true,
    can: ({ desk }) => desk.undo !== null,
    does: ({ actions }) => actions.undo(),
  },
  redo: {
    label: words.commands.redo.label,
    says: ({ desk }) => words.commands.redo.says(desk.redo),
    key: "ctrl shift z",
    shown: words.keys.ctrlShiftZ,
    repeats: true,
    can: ({ desk }) => desk.redo !== null,
    does: ({ actions }) => actions.redo(),
  },
  help: { ...words.commands.help, key: "?", ...switches("help") },
} satisfies Record<string, Command>;
