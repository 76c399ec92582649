import type { Box } from "../../api/client";

export const SMALLEST = 1;
export const LARGEST = 2000;

/** The next size up or down: about an eighth more or less, and whole pixels. */
export function stepped(size: number, up: boolean): number {
  const next = up
    ? Math.max(Math.round(size * 1.125), size + 1)
    : Math.min(Math.round(size / 1.125), size - 1);
  return Math.min(LARGEST, Math.max(SMALLEST, next));
}

/** The size that the brush has in a picture at first: a twentieth of its shorter side. */
export const firstSize = ({ width, height }: { width: number; height: number }): number =>
  Math.min(LARGEST, Math.max(SMALLEST, Math.round(Math.min(width, height) / 20)));

/** From this length on, in pixels, a mark can be filled in stages. */
export const LONG = 720;

/** Whether a mark is long enough for stages. */
export const isLong = (mark: { box: Box }) => Math.max(mark.box.width, mark.box.height) >= LONG;
