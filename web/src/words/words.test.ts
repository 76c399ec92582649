import { readFileSync } from "node:fs";
import { join } from "node:path";
import ts from "typescript";
import { describe, expect, it } from "vitest";
import { modules, parsed, ROOT } from "../testing/sources";
import * as words from "./words";

const OWN = join(ROOT, "words");
const files = modules.filter((name) => !name.startsWith(OWN));

/** Properties of components that people read. */
const READ = new Set(["aria-label", "title", "tip", "label", "placeholder", "alt", "says", "act"]);
/** Signs and keys, which are the same in every language. */
const SIGN = /^[^a-z]*$/;
/** What only a sentence looks like. */
const SENTENCE = /^[A-Z][a-z]+ [a-z]+|[a-z] [a-z]+[.?!]$/;

/** Strings of a file that people would read on the screen. */
function readable(file: string, text?: string): string[] {
  const source = parsed(file, text);
  const out: string[] = [];
  const visit = (node: ts.Node) => {
    if (ts.isImportDeclaration(node) || ts.isLiteralTypeNode(node)) return;
    if (ts.isJsxText(node) && !SIGN.test(node.text)) out.push(node.text.trim());
    else if (ts.isStringLiteralLike(node) || ts.isTemplateExpression(node)) {
      const said = ts.isTemplateExpression(node) ? node.head.text : node.text;
      const to = ts.isJsxExpression(node.parent) ? node.parent.parent : node.parent;
      const read = ts.isJsxAttribute(to) && READ.has(to.name.getText());
      if ((read && !SIGN.test(said)) || SENTENCE.test(said)) out.push(said);
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
  return out;
}

describe("the words of the screen", () => {
  it("finds a word that stands in a component", () => {
    const text =
      'const A = () => <B tip="Fill it" wide="3px">Carry over {f(n ? "Try it again" : "ink")} ✕</B>;';
    expect(readable("a.tsx", text)).toEqual(["Fill it", "Carry over", "Try it again"]);
  });

  it("stand here and nowhere else", () => {
    expect(files.length).toBeGreaterThan(100);
    const outside = files.flatMap((file) =>
      readable(file).map((text) => `${file.slice(ROOT.length)}: ${text}`),
    );
    expect(outside).toEqual([]);
  });

  it("are all said somewhere", () => {
    const code = files.map((file) => readFileSync(file, "utf8")).join("\n");
    const unsaid = Object.entries(words).flatMap(([room, list]) =>
      Object.keys(list)
        .filter((word) => !new RegExp(`words\\.${room}\\.${word}\\b`).test(code))
        .map((word) => `${room}.${word}`),
    );
    expect(unsaid).toEqual([]);
  });
});
