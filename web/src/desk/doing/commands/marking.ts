import * as words from "../../../words/words";
import { isTouch } from "../../canvas/touching";
import { stepped } from "../../reading/brush";
import type { Tool } from "../../state/marking";
import { type Command, held, switches } from "./command";

/** A key that is let go sooner was tapped, ms. */
const TAP = 250;

const tool = (name: Tool): Pick<Command, "does" | "on"> => ({
  does: ({ state }) => state.set({ tool: name, cautions: [] }),
  on: ({ state }) => state.tool === name,
});

export const marking = {
  brush: { ...words.commands.brush, key: "5", ...tool("brush") },
  outline: { ...words.commands.outline, key: "6", ...tool("outline") },
  corners: { ...words.commands.corners, key: "7", ...tool("corners") },
  box: { ...words.commands.box, key: "8", ...tool("box") },
  pieces: { ...words.commands.pieces, key: "9", ...tool("pieces") },
  smaller: {
    ...words.commands.smaller,
    key: "[",
    repeats: true,
    does: ({ state }) => state.set({ size: stepped(state.size, false) }),
  },
  larger: {
    ...words.commands.larger,
    key: "]",
    repeats: true,
    does: ({ state }) => state.set({ size: stepped(state.size, true) }),
  },
  sizing: { ...words.commands.sizing, key: "s", ...held("sizing") },
  takeAway: {
    ...words.commands.takeAway,
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
    ...words.commands.cling,
    key: "c",
    can: ({ state }) => !state.guarding && !isTouch(state.tool) && state.tool !== "pieces",
    ...switches("cling"),
    on: ({ state }) => state.cling && !state.guarding,
  },
  guard: {
    ...words.commands.guard,
    key: "u",
    ...switches("guarding"),
  },
  protectUnder: {
    ...words.commands.protectUnder,
    key: "shift u",
    shown: words.keys.shiftU,
    can: ({ viewer }) => viewer?.pointed != null,
    does: ({ viewer, state, actions }) => viewer?.pointed && actions.protectUnder(viewer.pointed, state.size),
  },
  instant: { ...words.commands.instant, key: "i", ...held("instant") },
  takeProposed: {
    ...words.commands.takeProposed,
    key: "y",
    can: ({ state, sweep }) => sweep !== undefined && state.proposed.length + state.strays.length > 0,
    does: ({ state, sweep, actions }) => {
      if (sweep && state.proposed.length) void actions.accept(sweep.id, state.proposed);
      for (const find of state.strays) void actions.protect(find);
    },
  },
  newMark: {
    ...words.commands.newMark,
    key: "n",
    does: ({ state }) => state.select(null),
  },
  masks: { ...words.commands.masks, key: "m", ...switches("masks") },
  maskAlone: {
    ...words.commands.maskAlone,
    key: "v",
    ...switches("maskAlone"),
  },
} satisfies Record<string, Command>;
