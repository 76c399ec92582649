import type { Take } from "../../api/client";
import * as words from "../../words/words";

type Part = Take["parts"][number];
const NAMES: Readonly<Record<string, string>> = words.named.method;

/** The methods of a part, which may be several, each by its word. */
const methodsOf = (part: Part): string[] => part.method.split(" + ").map((each) => NAMES[each] ?? each);

/** What a part was made with, and why so. */
export const madeSo = (part: Part): string => `${methodsOf(part).join(" + ")}: ${part.why}`;

/** What a take was made with, in a word; one that was put together of several, in theirs. */
export function madeWith({ method, parts }: Pick<Take, "method" | "parts">): string {
  if (method !== "auto" || !parts.length) return words.named.method[method];
  return allOf(parts);
}

/** How a take was made, in a line: why, too, where it was all made in one way. */
export function madeBy({ parts }: Pick<Take, "parts">): string {
  const [first] = parts;
  const same = first && parts.every((part) => part.method === first.method);
  return same ? madeSo(first) : allOf(parts);
}

const allOf = (parts: Part[]) => [...new Set(parts.flatMap(methodsOf))].join(" + ");
