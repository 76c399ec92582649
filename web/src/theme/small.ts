/** Windows so narrow, px, or narrower are small: controls move closer there. */
export const SMALLER = 1150;
export const SMALL = `(max-width: ${SMALLER}px)`;
