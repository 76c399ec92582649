import type { Command } from "./command";

export const delivering = {
  deliver: {
    label: "Deliver…",
    says: "The finished picture as a file",
    key: "F6",
    does: ({ open, desk }) => open(`/frames/${desk.frame.id}/deliver`),
  },
  again: {
    label: "Deliver again",
    says: "Deliver this picture as the shoot was delivered last time",
    key: "F7",
    does: ({ actions }) => actions.deliverAgain(),
  },
  ledger: {
    label: "Ledger",
    says: "What is not as shot, and how it was made",
    key: "F4",
    does: ({ open, desk }) => open(`/frames/${desk.frame.id}/ledger`),
  },
} satisfies Record<string, Command>;
