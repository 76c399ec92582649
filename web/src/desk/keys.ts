import { useEffect, useRef } from "react";
import type { Desk, Snag } from "../api/client";
import { useScouts } from "../api/queries";
import { type Actions, isBusy } from "./actions";
import { isLong, stepped } from "./brush";
import { isTouch, TOUCH_BRUSHES } from "./canvas/touching";
import type { PictureViewer } from "./canvas/viewer";
import { chosenFinds } from "./finds";
import { chosen, standing } from "./look";
import { TOOLS } from "./MarkingBar";
import { type Compare, useDeskState } from "./state";

/** All keys, for the sheet that ? shows. */
export const KEYS: [string, string][] = [
  ["5  6  7  8  9", "brush, outline, corners, box, pieces"],
  ["3  4  -", "touch up: clone, heal, bring back"],
  ["C held", "with clone or heal: click where to copy from"],
  ["[  ]", "smaller, larger brush"],
  ["S held", "drag for the size of the brush"],
  ["T", "take away instead of add"],
  ["T held", "take away while held"],
  ["C", "cling: tighten what is drawn to the thing"],
  ["U", "draw the guard instead of a mark"],
  ["I held", "fill what is drawn at once"],
  ["Y", "take all that is proposed: shadow, mirror image, more of it"],
  ["J", "job sheet or finds"],
  ["K", "keep the finds that are ticked"],
  ["X", "drop the chosen find; on the job sheet: paint where the other take shows"],
  ["H", "harsh light: faint specks stand out"],
  ["L", "the reflection alone"],
  ["V", "the mask alone, white on black"],
  ["Space held", "hand: move the picture"],
  ["N", "start a new mark"],
  ["M", "masks and flags on or off"],
  ["F", "fill the chosen sweep; again for three more takes"],
  ["=", "write what should be seen there"],
  ["Enter, Escape", "say yes or no to a fill that costs something"],
  ["Q", "quick look: one rough take in about a second"],
  ["G", "fill a long mark in stages, section by section"],
  [",  .", "step through the takes, in place"],
  ["Enter", "pick the take that shows"],
  ["R", "two takes split by a line that can be moved"],
  ["E", "two takes that blink"],
  ["D", "difference of two takes, made plain"],
  ["W", "compare with the next take; the first is as shot"],
  [";", "second look: the next snag, at 100 %"],
  ["'", "mend the snag that was gone to"],
  ["Backspace", "dismiss it"],
  ["*", "the take that shows is a favourite, or no longer"],
  ["B held", "before: this sweep as shot, and those chosen with Shift and click"],
  ["A held", "as shot: the whole picture"],
  ["↑  ↓", "previous, next sweep"],
  ["O", "sweep on or off"],
  ["Delete", "delete the sweep (undo brings it back)"],
  ["0  1  2", "fit, 100 %, 200 %"],
  ["Z", "delivery size: as large as people will see it"],
  ["P", "fold the panels away"],
  ["Ctrl Z,  Ctrl Shift Z", "undo, redo"],
  ["?", "this sheet"],
];

const HOLD_MS = 250;
const RELEASED = {
  hand: false,
  asShot: false,
  before: false,
  flipped: false,
  instant: false,
  sizing: false,
  sourcing: false,
};

export function useKeys(desk: Desk | undefined, actions: Actions, viewer: PictureViewer | null) {
  const found = useScouts(desk?.frame.id ?? 0, desk !== undefined);
  const scouts = useRef(found.data);
  scouts.current = found.data;
  useEffect(() => {
    if (!desk) return;
    const state = useDeskState;
    let since = 0;

    const stepTake = (by: number) => {
      const { selected, viewed, set } = state.getState();
      const sweep = chosen(desk, selected);
      if (!sweep?.takes.length) return;
      const order = [0, ...sweep.takes.map((take) => take.id)];
      const at = order.indexOf(standing(sweep, viewed));
      set({ viewed: order[(at + by + order.length) % order.length] ?? null });
    };
    /** A way to compare, or off if it is on already. */
    const turned = (how: Compare): Compare => (state.getState().compare === how ? "off" : how);
    const stepSweep = (by: number) => {
      const { selected, select } = state.getState();
      const at = desk.sweeps.findIndex((sweep) => sweep.id === selected);
      const next = desk.sweeps[Math.min(Math.max(at + by, 0), desk.sweeps.length - 1)];
      if (next) select(next.id);
    };
    const down = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      if (event.ctrlKey || event.metaKey) {
        if (key === "z" && !isTyping(target)) {
          event.preventDefault();
          if (event.shiftKey) actions.redo();
          else actions.undo();
        }
        return;
      }
      if (isTyping(target) || event.altKey) return;
      const { set, size, erase, selected, viewed, masks, folded, help, select } = state.getState();
      const sweep = chosen(desk, selected);
      // Space and Enter belong to a button that has the focus.
      const onButton = target.closest("button, a") !== null && document.activeElement === target;
      const atSnag = (act: (snag: Snag) => void) => {
        const at = sweep?.snags.find((each) => each.id === state.getState().snag && !each.dismissed);
        if (at) act(at);
      };
      const does: Record<string, () => void> = {
        "[": () => set({ size: stepped(size, false) }),
        "]": () => set({ size: stepped(size, true) }),
        c: () => {
          if (isTouch(state.getState().tool)) set({ sourcing: true });
          else set({ cling: !state.getState().cling });
        },
        u: () => set({ guarding: !state.getState().guarding }),
        j: () =>
          set({ sheet: state.getState().sheet === "job" ? "finds" : "job", find: null, pointing: false }),
        h: () => set({ harsh: state.getState().harsh === null ? 4 : null }),
        k: () => {
          const going = state.getState().sheet === "finds" ? chosenFinds(scouts.current) : [];
          if (going.length) actions.keep(going.map((each) => each.id));
        },
        x: () => {
          const { find, sheet, mixing } = state.getState();
          if (sheet === "finds" && find !== null) actions.changeFind(find, { dropped: true });
          else if (sweep?.takes.length) set({ mixing: !mixing });
        },
        l: () => set({ alone: !state.getState().alone }),
        v: () => set({ maskAlone: !state.getState().maskAlone }),
        i: () => set({ instant: true }),
        s: () => set({ sizing: true }),
        ...Object.fromEntries(TOOLS.map(([tool, , digit]) => [digit, () => set({ tool })])),
        ...Object.fromEntries(
          TOUCH_BRUSHES.map(([brush, , digit]) => [digit, () => set({ tool: brush, cautions: [] })]),
        ),
        ";": () => actions.nextSnag(viewer),
        "'": () => atSnag((snag) => actions.mend(snag)),
        Backspace: () => atSnag((snag) => actions.dismiss(snag)),
        "*": () => {
          const take = sweep?.takes.find((each) => each.id === standing(sweep, viewed));
          if (take) actions.favour(take.id, !take.favourite);
        },
        n: () => select(null),
        m: () => set({ masks: !masks }),
        f: () => sweep && !isBusy(sweep) && actions.fill(sweep),
        q: () => sweep && !isBusy(sweep) && actions.fill(sweep, { takes: 1, quality: "fast" }),
        g: () => sweep && !isBusy(sweep) && isLong(sweep) && actions.fill(sweep, { staged: true }),
        ",": () => stepTake(-1),
        ".": () => stepTake(1),
        ArrowUp: () => stepSweep(-1),
        ArrowDown: () => stepSweep(1),
        o: () => sweep && actions.change(sweep, { shown: !sweep.shown }),
        Delete: () => sweep && actions.remove(sweep),
        "0": () => viewer?.fit(),
        "1": () => viewer?.zoomTo(1),
        "2": () => viewer?.zoomTo(2),
        z: () => viewer?.zoomTo(state.getState().delivery / desk.frame.width),
        p: () => set({ folded: !folded }),
        "?": () => set({ help: !help }),
        Escape: () => (help ? set({ help: false }) : set({ problem: null, offer: null, grounding: false })),
        "=": () => (document.querySelector("[data-hint]") as HTMLElement | null)?.focus(),
        a: () => set({ asShot: true }),
        b: () => set({ before: true }),
        r: () => sweep?.takes.length && set({ compare: turned("split") }),
        e: () => sweep?.takes.length && set({ compare: turned("blink"), blinked: false }),
        d: () => sweep?.takes.length && set({ compare: turned("difference") }),
        w: () => {
          if (!sweep?.takes.length) return;
          const order = [0, ...sweep.takes.map((take) => take.id)];
          const others = order.filter((take) => take !== standing(sweep, viewed));
          set({ against: others[(others.indexOf(state.getState().against) + 1) % others.length] ?? 0 });
        },
        ...(onButton
          ? {}
          : {
              " ": () => set({ hand: true }),
              Enter: () => {
                const { offer } = state.getState();
                if (offer) !offer.quote.problem && actions.agree(offer);
                else if (sweep?.takes.length) actions.pick(sweep, standing(sweep, viewed));
              },
            }),
        t: () => {
          if (event.repeat) return;
          since = event.timeStamp;
          set({ flipped: true, erase });
        },
      };
      const act = does[key];
      if (!act) return;
      event.preventDefault();
      if (event.repeat && !["[", "]", ",", ".", "ArrowUp", "ArrowDown"].includes(key)) return;
      act();
    };
    const up = (event: KeyboardEvent) => {
      const { set, erase, flipped } = state.getState();
      const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      if (key === " ") set({ hand: false });
      if (key === "a") set({ asShot: false });
      if (key === "i") set({ instant: false });
      if (key === "s") set({ sizing: false });
      if (key === "c") set({ sourcing: false });
      if (key === "b") set({ before: false });
      // A tap switches, a held key flips only while it is down.
      if (key === "t" && flipped)
        set({ flipped: false, erase: event.timeStamp - since < HOLD_MS ? !erase : erase });
    };
    const blur = () => state.getState().set(RELEASED);
    // A button that was clicked with the mouse gives its focus up: the next key is meant for the desk.
    const click = (event: MouseEvent) => {
      if (event.detail > 0) (event.target as HTMLElement).closest?.("button")?.blur();
    };
    window.addEventListener("click", click);
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    window.addEventListener("blur", blur);
    return () => {
      window.removeEventListener("click", click);
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
      window.removeEventListener("blur", blur);
    };
  }, [desk, actions, viewer]);
}

function isTyping(target: HTMLElement): boolean {
  return target.matches?.("input:not([type=range]):not([type=checkbox]), textarea, select") ?? false;
}
