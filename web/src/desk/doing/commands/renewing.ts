import { ACCEPTED } from "../../../shoots/files";
import * as words from "../../../words/words";
import { chooseFile } from "../versions";
import type { At, Command } from "./command";

const behind = ({ desk }: At) => desk.sweeps.some((sweep) => sweep.state === "out of step");

export const renewing = {
  takeUp: {
    // Without a key: browsers open a choice of files for a click alone.
    ...words.commands.takeUp,
    does: ({ actions }) => void chooseFile(ACCEPTED).then(actions.takeUp),
  },
  layAgain: {
    ...words.commands.layAgain,
    key: "F3",
    can: behind,
    does: ({ actions }) => void actions.layAgain(),
  },
  fillAnew: {
    ...words.commands.fillAnew,
    can: behind,
    does: ({ actions }) => void actions.fillAnew(),
  },
  letGo: {
    ...words.commands.letGo,
    can: behind,
    does: ({ actions }) => void actions.letGo(),
  },
} satisfies Record<string, Command>;
