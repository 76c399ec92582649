import type { Brings, HowToFill } from "../../../api/client";
import * as words from "../../../words/words";
import { isBegun } from "../../reading/begun";
import { isLong } from "../../reading/brush";
import { canLead, isBusy } from "../../reading/sweeps";
import type { At, Command } from "./command";

/** Something is marked, and neither being filled nor priced. */
const canFill = ({ sweep, state }: At) =>
  isBegun(state) ||
  (sweep !== undefined && sweep.shapes > 0 && !isBusy(sweep) && !state.pricing.includes(sweep.id));

/** Whether the next stroke leads the fill, and how; asked for again, it no longer does. */
const leads = (state: At["state"], brings: Brings) =>
  state.set({ leading: state.leading === brings ? null : brings, grounding: false, tool: "brush" });

/** Fill what is chosen; a mark that was just begun as soon as it is there, for a hand is quicker than its answer. */
const fill = ({ sweep, state, actions }: At, how?: HowToFill) => {
  const { takes, seed } = state;
  const asked = { takes, ...(seed === null ? {} : { seed }), ...how };
  return isBegun(state) ? actions.fillBegun(asked) : sweep && actions.fill(sweep, asked);
};

export const filling = {
  fill: {
    ...words.commands.fill,
    key: "f",
    can: canFill,
    does: (at) => fill(at),
  },
  quick: {
    ...words.commands.quick,
    key: "q",
    can: canFill,
    does: (at) => fill(at, { takes: 1, quality: "fast" }),
  },
  stages: {
    ...words.commands.stages,
    key: "g",
    can: (at) => canFill(at) && at.sweep !== undefined && isLong(at.sweep),
    does: ({ sweep, actions }) => sweep && actions.fill(sweep, { staged: true }),
  },
  cancelFill: {
    ...words.commands.cancelFill,
    can: ({ sweep }) => sweep !== undefined && isBusy(sweep) && sweep.run !== null,
    does: ({ sweep, actions }) => sweep?.run && actions.cancel(sweep.run.id),
  },
  hint: {
    ...words.commands.hint,
    key: "=",
    does: () => document.querySelector<HTMLElement>("[data-hint]")?.focus(),
  },
  leadLine: {
    ...words.commands.leadLine,
    key: "shift l",
    shown: words.keys.shiftL,
    can: ({ sweep }) => sweep !== undefined && canLead(sweep) && !isBusy(sweep),
    on: ({ state }) => state.leading === "edge",
    does: ({ state }) => leads(state, "edge"),
  },
  leadArrow: {
    ...words.commands.leadArrow,
    key: "shift a",
    shown: words.keys.shiftA,
    can: ({ sweep }) => sweep !== undefined && canLead(sweep) && !isBusy(sweep),
    on: ({ state }) => state.leading === "ground",
    does: ({ state }) => leads(state, "ground"),
  },
  leadMirror: {
    ...words.commands.leadMirror,
    key: "shift x",
    shown: words.keys.shiftX,
    can: ({ sweep }) => sweep !== undefined && canLead(sweep) && !isBusy(sweep),
    on: ({ state }) => state.leading === "mirror",
    does: ({ state }) => leads(state, "mirror"),
  },
  leadRepeat: {
    ...words.commands.leadRepeat,
    key: "shift r",
    shown: words.keys.shiftR,
    can: ({ sweep }) => sweep !== undefined && canLead(sweep) && !isBusy(sweep),
    on: ({ state }) => state.leading === "repeat",
    does: ({ state }) => leads(state, "repeat"),
  },
  agree: {
    ...words.commands.agree,
    key: "Enter",
    can: ({ state }) => state.offer !== null && !state.offer.quote.problem,
    does: ({ state, actions }) => state.offer && actions.agree(state.offer),
  },
  decline: {
    ...words.commands.decline,
    key: "Escape",
    does: ({ state }) => state.set({ problem: null, offer: null, grounding: false, leading: null }),
  },
} satisfies Record<string, Command>;
