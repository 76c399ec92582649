// Pure, so that each page loads the words of its own rooms alone.
const RULES = /* @__PURE__ */ new Intl.PluralRules("en");

/** So many of something, in words: "1 take", "3 takes"; what has another plural says so. */
export function counted(count: number, one: string, many = `${one}s`): string {
  return `${count} ${RULES.select(count) === "one" ? one : many}`;
}
