import { isTouch } from "../../canvas/touching";
import { stepped } from "../../reading/brush";
import type { Tool } from "../../state/marking";
import { type Command, held, switches } from "./command";

/** A key that is let go sooner was tapped, ms. */
const TAP = 250;

const tool = (name: Tool, label: string, key: string, says: string): Command => ({
  label,
  says,
  key,
  does: ({ state }) => state.set({ tool: name, cautions: [] }),
  on: ({ state }) => state.tool === name,
});

export const marking = {
  brush: tool("brush", "Brush", "5", "Paint over what goes"),
  outline: tool("outline", "Outline", "6", "Draw round it: the line closes itself and is filled"),
  corners: tool(
    "corners",
    "Corners",
    "7",
    "Round it point by point. Backspace takes the last one back, Enter closes",
  ),
  box: tool("box", "Box", "8", "Pull up a box"),
  pieces: tool("pieces", "Pieces", "9", "The picture in pieces: point to see one, click or stroke to take"),
  smaller: {
    label: "Smaller",
    says: "Smaller brush",
    key: "[",
    repeats: true,
    does: ({ state }) => state.set({ size: stepped(state.size, false) }),
  },
  larger: {
    label: "Larger",
    says: "Larger brush",
    key: "]",
    repeats: true,
    does: ({ state }) => state.set({ size: stepped(state.size, true) }),
  },
  sizing: { label: "Size", says: "Drag for the size of the brush", key: "s", ...held("sizing") },
  takeAway: {
    label: "Take away",
    says: "Take away instead of add; held, only while it is held",
    key: "t",
    shown: "T",
    does: ({ state }) => state.set({ erase: !state.erase }),
    on: ({ state }) => state.erase !== state.flipped,
    holds: {
      starts: ({ state }) => state.set({ flipped: true }),
      // A tap switches, a held key flips only while it is down.
      ends: ({ state }, ms) => state.set({ flipped: false, erase: ms < TAP ? !state.erase : state.erase }),
    },
  },
  cling: {
    label: "Cling",
    says: "Tighten what you draw to the thing under it, with a margin",
    key: "c",
    can: ({ state }) => !state.guarding && !isTouch(state.tool) && state.tool !== "pieces",
    ...switches("cling"),
    on: ({ state }) => state.cling && !state.guarding,
  },
  guard: {
    label: "Guard",
    says: "What you draw is guarded: no mask enters it and no fill changes it",
    key: "u",
    ...switches("guarding"),
  },
  instant: { label: "At once", says: "Fill what is drawn at once", key: "i", ...held("instant") },
  takeProposed: {
    label: "Take all",
    says: "Take all that is proposed: shadow, mirror image, more of it",
    key: "y",
    can: ({ state, sweep }) => sweep !== undefined && state.proposed.length > 0,
    does: ({ state, sweep, actions }) => sweep && actions.accept(sweep.id, state.proposed),
  },
  newMark: {
    label: "New mark",
    says: "What you paint next becomes a sweep of its own",
    key: "n",
    does: ({ state }) => state.select(null),
  },
  masks: { label: "Masks", says: "Show masks and flags", key: "m", ...switches("masks") },
  maskAlone: {
    label: "Mask alone",
    says: "The mask alone, white on black",
    key: "v",
    ...switches("maskAlone"),
  },
} satisfies Record<string, Command>;
