import * as words from "../../../words/words";
import { chosenFinds, isDust, stillLooking } from "../../reading/finds";
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
    ...words.commands.finds,
    key: "j",
    does: ({ state }) =>
      state.set({ sheet: state.sheet === "job" ? "finds" : "job", find: null, pointing: false, harsh: null }),
  },
  keep: {
    ...words.commands.keep,
    key: "k",
    can: canKeep,
    does: (at) => keep(at, false),
  },
  keepAndFill: {
    ...words.commands.keepAndFill,
    can: canKeep,
    does: (at) => keep(at, true),
  },
  drop: {
    ...words.commands.drop,
    key: "x",
    can: ({ state }) => state.sheet === "finds" && state.find !== null,
    does: ({ state, actions }) => state.find !== null && actions.changeFind(state.find, { dropped: true }),
  },
  lookAgain: {
    ...words.commands.lookAgain,
    key: "shift j",
    shown: words.keys.shiftJ,
    can: ({ scouts }) => scouts !== undefined && scouts.scouts.length > 0 && !stillLooking(scouts).length,
    does: ({ state, actions }) => {
      state.set({ sheet: "finds" });
      void actions.lookAgain();
    },
  },
  harsh: {
    ...words.commands.harsh,
    key: "h",
    does: ({ state }) => state.set({ harsh: state.harsh === null ? 4 : null }),
    on: ({ state }) => state.harsh !== null,
  },
} satisfies Record<string, Command>;
