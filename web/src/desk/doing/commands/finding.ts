import { chosenFinds, isDust } from "../../reading/finds";
import type { At, Command } from "./command";

const going = ({ scouts }: At) => chosenFinds(scouts);
const keep = (at: At, fill: boolean) => {
  const finds = going(at);
  const everywhere = at.state.everywhere && finds.some(isDust);
  at.actions.keep(
    finds.map((each) => each.id),
    { fill, everywhere },
  );
};
const canKeep = (at: At) => at.state.sheet === "finds" && going(at).length > 0;

export const finding = {
  finds: {
    label: "Finds",
    says: "Job sheet or finds",
    key: "j",
    does: ({ state }) =>
      state.set({ sheet: state.sheet === "job" ? "finds" : "job", find: null, pointing: false, harsh: null }),
  },
  keep: {
    label: "Keep",
    says: "What is ticked goes onto the job sheet; undo brings it back here",
    key: "k",
    can: canKeep,
    does: (at) => keep(at, false),
  },
  keepAndFill: {
    label: "Keep and fill",
    says: "Keep them and fill them one by one",
    can: canKeep,
    does: (at) => keep(at, true),
  },
  drop: {
    label: "Drop",
    says: "The chosen find is no distraction: do not show it again",
    key: "x",
    can: ({ state }) => state.sheet === "finds" && state.find !== null,
    does: ({ state, actions }) => state.find !== null && actions.changeFind(state.find, { dropped: true }),
  },
  harsh: {
    label: "Harsh light",
    says: "A picture as if lit from the side: faint spots stand out",
    key: "h",
    does: ({ state }) => state.set({ harsh: state.harsh === null ? 4 : null }),
    on: ({ state }) => state.harsh !== null,
  },
} satisfies Record<string, Command>;
