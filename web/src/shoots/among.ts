import type { Frame, Standing } from "../api/client";

export const STATES = [
  "untouched",
  "marked",
  "filling",
  "to choose",
  "doubtful",
  "done",
  "delivered",
] as const;

/** A sign for each state, beside its word. */
export const SIGNS: Record<(typeof STATES)[number], string> = {
  untouched: "○",
  marked: "◐",
  filling: "◌",
  "to choose": "◉",
  doubtful: "?",
  done: "✓",
  delivered: "↗",
};
export type Filter = "all" | (typeof STATES)[number];
export type Order = "name" | "state" | "newest";

/** The frames that are shown of a shoot, in which order. They come by name. */
export function among(
  frames: Frame[],
  standings: Map<number, Standing>,
  filter: Filter,
  order: Order,
  sought = "",
): Frame[] {
  const state = (frame: Frame) => standings.get(frame.id)?.state ?? "untouched";
  const asked = sought.trim().toLowerCase();
  const shown = frames.filter(
    (frame) => (filter === "all" || state(frame) === filter) && frame.name.toLowerCase().includes(asked),
  );
  if (order === "state") return shown.sort((a, b) => STATES.indexOf(state(a)) - STATES.indexOf(state(b)));
  if (order === "newest") return shown.sort((a, b) => b.id - a.id);
  return shown;
}

/** How many frames are in each state. */
export function counts(standings: Iterable<Standing>): Map<Filter, number> {
  const out = new Map<Filter, number>();
  for (const { state } of standings) out.set(state, (out.get(state) ?? 0) + 1);
  return out;
}

/** Cards in rows: how many go side by side, how wide each is, and the gap between two, pixels. */
export type Rows = { columns: number; wide: number; tall: number; gap: number };

export function rowsIn(width: number): Rows {
  const gap = 14;
  const columns = Math.max(1, Math.floor((width + gap) / (220 + gap)));
  return { columns, wide: (width - gap * (columns - 1)) / columns, tall: 212, gap };
}

export type Area = { left: number; top: number; right: number; bottom: number };

/** The numbers of the cards that a box drawn over the rows touches. */
export function touched(area: Area, count: number, { columns, wide, tall, gap }: Rows): number[] {
  const out: number[] = [];
  for (let k = 0; k < count; k++) {
    const left = (k % columns) * (wide + gap);
    const top = Math.floor(k / columns) * (tall + gap);
    if (left < area.right && left + wide > area.left && top < area.bottom && top + tall > area.top)
      out.push(k);
  }
  return out;
}
