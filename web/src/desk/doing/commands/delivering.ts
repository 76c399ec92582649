import * as words from "../../../words/words";
import type { Command } from "./command";

export const delivering = {
  deliver: {
    ...words.commands.deliver,
    key: "F6",
    does: ({ open, desk }) => open(`/frames/${desk.frame.id}/deliver`),
  },
  again: {
    ...words.commands.again,
    key: "F7",
    does: ({ actions }) => actions.deliverAgain(),
  },
  ledger: {
    ...words.commands.ledger,
    key: "F4",
    does: ({ open, desk }) => open(`/frames/${desk.frame.id}/ledger`),
  },
} satisfies Record<string, Command>;
