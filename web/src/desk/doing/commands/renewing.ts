import { ACCEPTED } from "../../../shoots/files";
import { chooseFile } from "../versions";
import type { At, Command } from "./command";

const behind = ({ desk }: At) => desk.sweeps.some((sweep) => sweep.state === "out of step");

export const renewing = {
  takeUp: {
    // Without a key: browsers open a choice of files for a click alone.
    label: "Newer version…",
    says: "A newer version of this picture's file, in other tones, straightened or cropped: what was done follows",
    does: ({ actions }) => void chooseFile(ACCEPTED).then(actions.takeUp),
  },
  layAgain: {
    label: "Lay them again",
    says: "Lay the fills that are out of step again, from the same places, in the new tones",
    key: "F3",
    can: behind,
    does: ({ actions }) => void actions.layAgain(),
  },
  fillAnew: {
    label: "Fill them anew",
    says: "Fill the sweeps that are out of step once more, as many takes as usual of each",
    can: behind,
    does: ({ actions }) => void actions.fillAnew(),
  },
  letGo: {
    label: "Let them go",
    says: "Forget the fills that are out of step: they are to be filled anew",
    can: behind,
    does: ({ actions }) => void actions.letGo(),
  },
} satisfies Record<string, Command>;
