import * as en from "./en/en";

/**
 * Everything that the screen says. Another language is a folder beside `en` of the same type, chosen here; sentences with numbers or
 * names in them are functions, so that each language puts them in its own order and plurals.
 */
export type Words = typeof en;
export const words: Words = en;
