import type { Take } from "../../api/client";
import { words } from "../../words/words";

/** What a take was made with, in a word; one that was put together of several, in theirs. */
export function madeWith({ method, parts }: Pick<Take, "method" | "parts">): string {
  if (method !== "auto" || !parts.length) return words.named.method[method];
  return [...new Set(parts.map((part) => words.named.method[part.method]))].join(" + ");
}
