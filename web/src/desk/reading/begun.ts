import type { DeskState } from "../state/state";

/** Whether a new mark was begun of which there is no sweep yet: its first shape is still being kept. */
export const isBegun = ({ pending, mark }: Pick<DeskState, "pending" | "mark">): boolean =>
  pending.some((each) => each.mark === mark && each.sweep === null && !each.shape.erase);
