import { create } from "zustand";
import { useShallow } from "zustand/react/shallow";
import { OF_THE_CHOSEN } from "./chosen";
import { LOOKING } from "./looking";
import { MARKING } from "./marking";
import { PANELS } from "./panels";
import { keep } from "./remembered";
import { TOUCHING } from "./touching";

/** What one window shows of the desk; all that lasts is on the server. A new field goes into one of these, and nowhere else. */
const AT_FIRST = {
  ...PANELS,
  ...LOOKING,
  ...MARKING,
  ...TOUCHING,
  ...OF_THE_CHOSEN,
  selected: null as string | null,
};

export type DeskState = typeof AT_FIRST & {
  set: (change: Partial<typeof AT_FIRST>) => void;
  /** Choose a sweep, or none. What is drawn next is a mark of its own, unless it belongs to one that is being drawn. */
  select: (sweep: string | null, mark?: number) => void;
};

export const useDeskState = create<DeskState>((set) => ({
  ...AT_FIRST,
  set: (change) => {
    keep(change);
    set(change);
  },
  select: (selected, mark) => set((known) => ({ ...OF_THE_CHOSEN, selected, mark: mark ?? known.mark + 1 })),
}));

/** Some of the state: whoever reads no more than that is drawn anew only when it changes. */
export function useStateOf<K extends keyof DeskState>(...names: K[]): Pick<DeskState, K> {
  return useDeskState(
    useShallow((state) => Object.fromEntries(names.map((name) => [name, state[name]])) as Pick<DeskState, K>),
  );
}
