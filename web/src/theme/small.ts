/** Windows in which controls move closer. */
export const SMALL = "(max-width: 1150px)";
