import { type At, type Command, held, switches } from "./command";

/** Whether the picture is at a zoom. */
const at = (ratio: number, { state }: At) => Math.abs(state.zoom / ratio - 1) < 0.01;
const zoom = (ratio: number, label: string, key: string, says: string): Command => ({
  label,
  says,
  key,
  does: ({ viewer, sweep }) => viewer?.zoomNear(ratio, sweep && sweep.box.width > 0 ? sweep.box : null),
  on: (room) => at(ratio, room),
});

export const looking = {
  fit: { label: "Fit", says: "All of the picture", key: "0", does: ({ viewer }) => viewer?.fit() },
  full: zoom(1, "100 %", "1", "Full size"),
  twice: zoom(2, "200 %", "2", "Twice full size"),
  back: {
    label: "Back",
    says: "Where the view was before it was taken somewhere",
    key: "Home",
    does: ({ viewer }) => viewer?.back(),
  },
  delivered: {
    label: "Z",
    says: "Delivery size: as large as people will see it",
    key: "z",
    does: ({ viewer, state, desk }) => viewer?.zoomTo(state.delivery / desk.frame.width),
    on: (room) => at(room.state.delivery / room.desk.frame.width, room),
  },
  asShot: {
    label: "As shot",
    says: "The whole picture as shot; the key works while it is held",
    key: "a",
    ...held("asShot"),
    does: ({ state }) => state.set({ asShot: !state.asShot }),
  },
  hand: { label: "Hand", says: "Move the picture", key: " ", ...held("hand") },
  fold: { label: "Fold", says: "Fold the panels away", key: "p", ...switches("folded") },
  undo: {
    label: "Undo",
    says: ({ desk }) => (desk.undo ? `Undo: ${desk.undo}` : "Nothing to undo"),
    key: "ctrl z",
    shown: "Ctrl Z",
    repeats: true,
    can: ({ desk }) => desk.undo !== null,
    does: ({ actions }) => actions.undo(),
  },
  redo: {
    label: "Redo",
    says: ({ desk }) => (desk.redo ? `Redo: ${desk.redo}` : "Nothing to redo"),
    key: "ctrl shift z",
    shown: "Ctrl Shift Z",
    repeats: true,
    can: ({ desk }) => desk.redo !== null,
    does: ({ actions }) => actions.redo(),
  },
  help: { label: "?", says: "All keys", key: "?", ...switches("help") },
} satisfies Record<string, Command>;
