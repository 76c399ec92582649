import type { HowToFill } from "../../../api/client";
import { isBegun } from "../../reading/begun";
import { isLong } from "../../reading/brush";
import { isBusy } from "../../reading/sweeps";
import type { At, Command } from "./command";

/** Something is marked, and neither being filled nor priced. */
const canFill = ({ sweep, state }: At) =>
  isBegun(state) ||
  (sweep !== undefined && sweep.shapes > 0 && !isBusy(sweep) && !state.pricing.includes(sweep.id));

/** Fill what is chosen; a mark that was just begun as soon as it is there, for a hand is quicker than its answer. */
const fill = ({ sweep, state, actions }: At, how?: HowToFill) =>
  isBegun(state) ? actions.fillBegun(how) : sweep && actions.fill(sweep, how);

export const filling = {
  fill: {
    label: "Fill",
    says: "Fill the chosen sweep: three takes; again for three more",
    key: "f",
    can: canFill,
    does: (at) => fill(at),
  },
  quick: {
    label: "Quick look",
    says: "One rough take in about a second",
    key: "q",
    can: canFill,
    does: (at) => fill(at, { takes: 1, quality: "fast" }),
  },
  stages: {
    label: "In stages",
    says: "Fill a long mark section by section, each on top of the last",
    key: "g",
    can: (at) => canFill(at) && at.sweep !== undefined && isLong(at.sweep),
    does: ({ sweep, actions }) => sweep && actions.fill(sweep, { staged: true }),
  },
  cancelFill: {
    label: "Cancel fill",
    says: "Takes that are ready stay",
    can: ({ sweep }) => sweep !== undefined && isBusy(sweep) && sweep.run !== null,
    does: ({ sweep, actions }) => sweep?.run && actions.cancel(sweep.run.id),
  },
  hint: {
    label: "Hint",
    says: "Write what should be seen there",
    key: "=",
    does: () => document.querySelector<HTMLElement>("[data-hint]")?.focus(),
  },
  agree: {
    label: "Yes",
    says: "Say yes to a fill that costs something",
    key: "Enter",
    can: ({ state }) => state.offer !== null && !state.offer.quote.problem,
    does: ({ state, actions }) => state.offer && actions.agree(state.offer),
  },
  decline: {
    label: "No",
    says: "Say no to it; close what is said under the picture",
    key: "Escape",
    does: ({ state }) => state.set({ problem: null, offer: null, grounding: false }),
  },
} satisfies Record<string, Command>;
