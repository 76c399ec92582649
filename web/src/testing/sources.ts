import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import ts from "typescript";

export const ROOT = join(import.meta.dirname, "..");

/** The program's own modules, by their full names: no tests, nothing that was generated. */
export const modules = readdirSync(ROOT, { recursive: true, encoding: "utf8" })
  .map((name) => join(ROOT, name))
  .filter((name) => /\.tsx?$/.test(name) && !/\.test\.tsx?$|schema\.ts$/.test(name))
  .filter((name) => !name.startsWith(join(ROOT, "testing")));

/** A module as the compiler reads it. */
export const parsed = (file: string, text = readFileSync(file, "utf8")): ts.SourceFile =>
  ts.createSourceFile(file, text, ts.ScriptTarget.Latest, true, ts.ScriptKind.TSX);
