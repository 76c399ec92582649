import type { TouchBrush } from "../../../api/client";
import * as words from "../../../words/words";
import { isTouch } from "../../canvas/touching";
import { type Command, held } from "./command";

const brush = (name: TouchBrush): Pick<Command, "does" | "on"> => ({
  does: ({ state }) => state.set({ tool: name, cautions: [] }),
  on: ({ state }) => state.tool === name,
});

export const touching = {
  clone: { ...words.commands.clone, key: "3", ...brush("clone") },
  heal: { ...words.commands.heal, key: "4", ...brush("heal") },
  bringBack: { ...words.commands.bringBack, key: "-", ...brush("bring back") },
  source: {
    ...words.commands.source,
    key: "c",
    can: ({ state }) => isTouch(state.tool) && state.tool !== "bring back",
    does: ({ state }) => state.set({ sourcing: !state.sourcing }),
    ...held("sourcing"),
  },
} satisfies Record<string, Command>;
