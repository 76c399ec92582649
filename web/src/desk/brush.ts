export const SMALLEST = 1;
export const LARGEST = 2000;

/** The next size up or down: about an eighth more or less, and whole pixels. */
export function stepped(size: number, up: boolean): number {
  const next = up
    ? Math.max(Math.round(size * 1.125), size + 1)
    : Math.min(Math.round(size / 1.125), size - 1);
  return Math.min(LARGEST, Math.max(SMALLEST, next));
}

/** Sizes on a slide from 0 to 100 where each step is the same share. */
export const fromSlide = (at: number) => Math.max(SMALLEST, Math.round(LARGEST ** (at / 100)));
export const toSlide = (size: number) => Math.round((Math.log(size) / Math.log(LARGEST)) * 100);
