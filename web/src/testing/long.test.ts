import ts from "typescript";
import { describe, expect, it } from "vitest";
import { modules, parsed, ROOT } from "./sources";

/** Lines of a function, a component with all that it shows and a table of actions too. */
const MOST = 60;

type Long = { name: string; lines: number };

function functionsOf(file: string): Long[] {
  const source = parsed(file);
  const all: Long[] = [];
  const line = (at: number) => source.getLineAndCharacterOfPosition(at).line;
  const visit = (node: ts.Node) => {
    if (ts.isFunctionLike(node) && "body" in node && node.body) {
      const to = node.parent;
      const named = node.name?.getText() ?? (ts.isVariableDeclaration(to) ? to.name.getText() : "");
      const lines = line(node.end) - line(node.getStart()) + 1;
      const name = `${file.slice(ROOT.length + 1)}: ${named}`;
      all.push({ name, lines });
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
  return all;
}

describe("functions", () => {
  it("are read on one screen", () => {
    const all = modules.flatMap(functionsOf);
    expect(all.length).toBeGreaterThan(500);
    expect(all.filter(({ lines }) => lines > MOST)).toEqual([]);
  });
});
