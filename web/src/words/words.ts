/**
 * Everything that the screen says, a module for each room of the front end, so that a page loads its own words alone. Another language is
 * a folder beside `en` with the same modules, and is named here instead; sentences with numbers or names in them are functions, so that
 * each language puts them in its own order and plurals.
 */
export * from "./en/en";
