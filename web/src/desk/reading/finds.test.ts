import { describe, expect, it } from "vitest";
import type { Find, Scouts } from "../../api/client";
import { chosenFinds, isDust, KINDS, progressOf } from "./finds";

const find = (kind: string, goes: boolean, frames = 1) => ({ kind, goes, frames }) as Find;
const scout = (kind: string, state: string, progress = 0) => ({ kind, state, progress });
const scouts = {
  scouts: [scout("people", "done"), scout("wires", "running", 0.426), scout("specks", "failed")],
  finds: [find("people", true), find("people", false)],
} as unknown as Scouts;

describe("what the scouts found", () => {
  it("says how far each scout is in a word or two", () => {
    expect(KINDS.map(([kind]) => progressOf(scouts, kind))).toEqual([
      "2 found",
      "not asked",
      "looking, 43 %",
      "cannot look",
      "not asked",
    ]);
    expect(progressOf({ ...scouts, finds: [] }, "people")).toBe("none left");
  });
  it("keeps only what is ticked", () => {
    expect(chosenFinds(scouts)).toEqual([scouts.finds[0]]);
    expect(chosenFinds(undefined)).toEqual([]);
  });
  it("calls dust what sits in several frames, and only specks", () => {
    expect(isDust(find("specks", true, 3))).toBe(true);
    expect(isDust(find("specks", true, 1))).toBe(false);
    expect(isDust(find("people", true, 3))).toBe(false);
  });
});
