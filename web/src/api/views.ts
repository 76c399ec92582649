import type { Box } from "./client";
import { WIDE } from "./screen";

/** A state of a frame: a revision, and how often what stands provisionally has changed. */
export type State = { revision: number; provisional?: number };

/** What to look at: as shot; or a revision, perhaps with one sweep's take in place of its pick (0: as shot); or in harsh light, with a
 * threshold in per cent; alone: what that take took off;
 * unlike: how it differs from another take, made plain; takes: each in place of its sweep's pick; without: as if some sweeps had not
 * been made. */
export type Look = State & {
  shot?: boolean;
  sweep?: string;
  take?: number;
  harsh?: number;
  alone?: boolean;
  unlike?: number;
  takes?: number[];
  without?: string[];
};

/** The state that a frame is in. */
export const stateOf = ({ revision, provisional }: Required<State>): State => ({ revision, provisional });

export function lookQuery(look: Look): string {
  if (look.shot) return "shot=true";
  const query = new URLSearchParams({ revision: String(look.revision) });
  if (look.provisional) query.set("provisional", String(look.provisional));
  if (look.harsh !== undefined) {
    query.set("harsh", String(look.harsh));
    return query.toString();
  }
  if (look.sweep !== undefined && look.take !== undefined) {
    query.set("sweep", look.sweep);
    query.set("take", String(look.take));
    if (look.alone) query.set("alone", "true");
    if (look.unlike !== undefined) query.set("unlike", String(look.unlike));
  }
  for (const take of look.takes ?? []) query.append("takes", String(take));
  for (const sweep of look.without ?? []) query.append("without", sweep);
  return query.toString();
}

/** A look as this screen shows it. */
const seen = (look: Look) => `${lookQuery(look)}${WIDE ? "&screen=p3" : ""}`;

export function tileUrl(frame: number, look: Look, level: number, column: number, row: number): string {
  return `/api/frames/${frame}/tiles/${level}/${column}/${row}?${seen(look)}`;
}

export function cropUrl(frame: number, look: Look, box: Box, across: number): string {
  const { x, y, width, height } = box;
  return `/api/frames/${frame}/crop?${seen(look)}&x=${x}&y=${y}&width=${width}&height=${height}&across=${across}`;
}

/** A box with room round it and of a given shape (width over height), kept inside the picture. */
export function framed(box: Box, picture: { width: number; height: number }, shape: number): Box {
  const room = 1.5;
  let width = Math.max(box.width * room, box.height * room * shape, 160);
  let height = width / shape;
  const shrink = Math.min(1, picture.width / width, picture.height / height);
  width = Math.round(width * shrink);
  height = Math.round(height * shrink);
  const within = (start: number, size: number, most: number) =>
    Math.max(0, Math.min(most - size, Math.round(start)));
  return {
    x: within(box.x + box.width / 2 - width / 2, width, picture.width),
    y: within(box.y + box.height / 2 - height / 2, height, picture.height),
    width,
    height,
  };
}
