import type { Desk, Scouts, Sister, Sweep } from "../../../api/client";
import * as words from "../../../words/words";
import type { PictureViewer } from "../../canvas/viewer";
import type { DeskState } from "../../state/state";
import type { Actions } from "../actions";

/** What is open on the desk. */
export type Room = {
  desk: Desk;
  scouts: Scouts | undefined;
  /** The series that the strip shows. */
  series: Sister[] | undefined;
  /** Open another frame on the desk, with one of its sweeps chosen. */
  go: (frame: number, sweep?: string) => void;
  /** Open another page. */
  open: (address: string) => void;
  actions: Actions;
  viewer: PictureViewer | null;
};
/** The room, and what is chosen and set in it. */
export type At = Room & { state: DeskState; sweep: Sweep | undefined };

/** Something that can be done from a key, a button, or both: under the same rule, and said in the same words. */
export type Command = {
  /** What its button says. */
  label: string;
  /** What it does: the tooltip, and the line on the sheet of keys. */
  says: string | ((at: At) => string);
  /** The key as the browser names it, in lower case if it is a letter; "ctrl " before it. */
  key?: string;
  /** How the key is shown, if not as it is. */
  shown?: string;
  /** Whether it can be done now; always if nothing is said. */
  can?: (at: At) => boolean;
  does?: (at: At) => void;
  /** What the key does while it is held, instead: from its going down until it comes up so many ms later. */
  holds?: { starts: (at: At) => void; ends: (at: At, ms: number) => void };
  /** Whether it is on, for those that switch something. */
  on?: (at: At) => boolean;
  /** A key that is kept down does it again and again. */
  repeats?: boolean;
};

export const shownKey = ({ key, shown, holds }: Command): string => {
  const name =
    shown ?? (key === " " ? words.keys.space : key && key.length === 1 ? key.toUpperCase() : (key ?? ""));
  return holds && !shown ? words.keys.held(name) : name;
};

/** A switch in the state of the desk. */
type Switch = { [K in keyof DeskState]: DeskState[K] extends boolean ? K : never }[keyof DeskState];

/** A command that switches something on and off. */
export const switches = (name: Switch): Pick<Command, "does" | "on"> => ({
  does: ({ state }) => state.set({ [name]: !state[name] }),
  on: ({ state }) => state[name],
});

/** What is on while a key is held. */
export const held = (name: Switch): Pick<Command, "holds" | "on"> => ({
  holds: {
    starts: ({ state }) => state.set({ [name]: true }),
    ends: ({ state }) => state.set({ [name]: false }),
  },
  on: ({ state }) => state[name],
});
