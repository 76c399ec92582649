import type { TouchBrush } from "../../../api/client";
import { isTouch } from "../../canvas/touching";
import { type Command, held } from "./command";

const brush = (name: TouchBrush, label: string, key: string, says: string): Command => ({
  label,
  says,
  key,
  does: ({ state }) => state.set({ tool: name, cautions: [] }),
  on: ({ state }) => state.tool === name,
});

export const touching = {
  clone: brush("clone", "Clone", "3", "Copy from elsewhere: hold C and click to set where from"),
  heal: brush(
    "heal",
    "Heal",
    "4",
    "Texture from elsewhere, tone from here; finds its own source unless one is set",
  ),
  bringBack: brush("bring back", "Bring back", "-", "The picture as shot, under the brush"),
  source: {
    label: "Set source",
    says: "With clone or heal: click where to copy from",
    key: "c",
    can: ({ state }) => isTouch(state.tool) && state.tool !== "bring back",
    does: ({ state }) => state.set({ sourcing: !state.sourcing }),
    ...held("sourcing"),
  },
} satisfies Record<string, Command>;
