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

/** From this length on, in pixels, a mark can be filled in stages. */
export const LONG = 720;

/** Whether what the strokes cover is long enough for stages. */
export function isLong(mark: { strokes: { points: number[][]; size: number; erase?: boolean }[] }): boolean {
  const ends = mark.strokes
    .filter((s) => !s.erase)
    .flatMap((s) =>
      s.points.flatMap(([x = 0, y = 0]) => [
        [x - s.size / 2, y - s.size / 2],
        [x + s.size / 2, y + s.size / 2],
      ]),
    );
  if (!ends.length) return false;
  const span = (axis: 0 | 1) => {
    const all = ends.map((end) => end[axis] ?? 0);
    return Math.max(...all) - Math.min(...all);
  };
  return Math.max(span(0), span(1)) >= LONG;
}
