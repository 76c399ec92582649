import { describe, expect, it } from "vitest";
import type { Find, Scouts } from "../../api/client";
import { aFind } from "../../testing/made";
import { chosenFinds, isDust, KINDS, progressOf, removalOf } from "./finds";

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
      "not searched",
      "searching, 43 %",
      "search failed",
      "not searched",
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

describe("one kind removed in one go", () => {
  const scouts = (...finds: Partial<Find>[]) =>
    ({ scouts: [], finds: finds.map((each, id) => aFind(id, { kind: "people", ...each })) }) as Scouts;

  it("is what is ticked, or all but the subject if nothing is", () => {
    expect(removalOf(scouts({ goes: true }, {}, { goes: true }), "people").finds).toEqual([0, 2]);
    expect(removalOf(scouts({ subject: true }, {}, {}), "people").finds).toEqual([1, 2]);
    expect(removalOf(scouts({ goes: true }), "wires").finds).toEqual([]);
  });

  it("asks about shadows that are not with it yet, and about poles that would carry nothing", () => {
    const shadow = { shadow: [[0, 0, 1, 0, 1, 1]] };
    const some = scouts(
      { goes: true, also: shadow },
      { goes: true, also: shadow, with_also: ["shadow"] },
      { also: shadow },
    );
    expect(removalOf(some, "people").belongings).toBe(1);
    const wires = scouts({ kind: "wires", goes: true }, { kind: "wires", what: "pole" });
    expect(removalOf(wires, "wires")).toEqual({ finds: [0], poles: [1], belongings: 0 });
    expect(removalOf(scouts({ kind: "wires", what: "pole" }), "wires").poles).toEqual([]);
  });
});
