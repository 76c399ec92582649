import ts from "typescript";
import { describe, expect, it } from "vitest";
import { modules, parsed, ROOT } from "./sources";

/** Lines of a component with all that it shows, and of an effect. */
const FUNCTION = 100;
const EFFECT = 60;
/** Tables of small functions, read one by one. */
const TABLES = ["desk/doing/marking.ts: marking", "desk/doing/choosing.ts: choosing"];

type Long = { name: string; lines: number };

function functionsOf(file: string): { all: Long[]; effects: Long[] } {
  const source = parsed(file);
  const [all, effects]: [Long[], Long[]] = [[], []];
  const line = (at: number) => source.getLineAndCharacterOfPosition(at).line;
  const visit = (node: ts.Node) => {
    if (ts.isFunctionLike(node) && "body" in node && node.body) {
      const to = node.parent;
      const named = node.name?.getText() ?? (ts.isVariableDeclaration(to) ? to.name.getText() : "");
      const lines = line(node.end) - line(node.getStart()) + 1;
      const name = `${file.slice(ROOT.length + 1)}: ${named}`;
      all.push({ name, lines });
      if (ts.isCallExpression(to) && /Effect$/.test(to.expression.getText())) effects.push({ name, lines });
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
  return { all, effects };
}

describe("functions", () => {
  const found = modules.map(functionsOf);

  it("are read on one screen", () => {
    const all = found.flatMap((each) => each.all);
    expect(all.length).toBeGreaterThan(500);
    const long = all.filter(({ name, lines }) => lines > FUNCTION && !TABLES.includes(name));
    expect(long).toEqual([]);
  });

  it("that are effects are short", () => {
    const effects = found.flatMap((each) => each.effects);
    expect(effects.length).toBeGreaterThan(20);
    expect(effects.filter(({ lines }) => lines > EFFECT)).toEqual([]);
  });
});
