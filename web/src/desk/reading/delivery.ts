/** Sizes at which people will look, as the width of the picture in screen pixels. */
export const SIZES: Record<string, number> = {
  "web, 1200 px": 1200,
  "web, 2048 px": 2048,
  "A4 in the hand": onScreen(297, 400),
  "A3 on a table": onScreen(420, 600),
  "a metre, across a room": onScreen(1000, 2500),
};

/** How wide a print of some millimetres, seen from some more, has to be on a screen to fill as much of the eye: screens
 * are looked at from 600 mm and have 96 pixels an inch (common practice, no source). */
export function onScreen(wide: number, away: number): number {
  return Math.round(((wide / away) * 600 * 96) / 25.4);
}
