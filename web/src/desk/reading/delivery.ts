import * as words from "../../words/words";

/** Sizes at which people will look, as the width of the picture in screen pixels. */
export const SIZES: Record<string, number> = {
  [words.reading.sizes.web1200]: 1200,
  [words.reading.sizes.web2048]: 2048,
  [words.reading.sizes.a4]: onScreen(297, 400),
  [words.reading.sizes.a3]: onScreen(420, 600),
  [words.reading.sizes.metre]: onScreen(1000, 2500),
};

/** How wide a print of some millimetres, seen from some more, has to be on a screen to fill as much of the eye: screens
 * are looked at from 600 mm and have 96 pixels an inch (common practice, no source). */
export function onScreen(wide: number, away: number): number {
  return Math.round(((wide / away) * 600 * 96) / 25.4);
}
