import { describe, expect, it } from "vitest";
import type { Step } from "../../api/client";
import { together, told } from "./steps";

const step = (revision: number, title: string, rest: Partial<Step> = {}): Step => ({
  revision,
  parent: revision === 1 ? null : revision - 1,
  title,
  made_at: "2030-01-01T10:00:00Z",
  on: true,
  now: false,
  box: { x: 0, y: 0, width: 9, height: 9 },
  sweep: "a",
  subject: title.split(": ")[0] ?? "",
  stroke: title.endsWith("add to mark"),
  ...rest,
});
const numbers = (steps: Step[]) =>
  together(steps.toReversed()).map((group) => group.map((each) => each.revision));

describe("the history", () => {
  it("says what was done, or how many strokes were drawn", () => {
    expect(told(step(2, "Cables: take 2 picked"))).toBe("Cables: take 2 picked");
    expect(told(step(1, "gathered"))).toBe("as shot");
    expect(told(step(4, "Cables: add to mark"), 3)).toBe("Cables: 3 more strokes");
  });

  it("keeps the strokes of one mark together, and no others", () => {
    const strokes = [
      step(1, "as shot"),
      step(2, "new mark"),
      step(3, "Cables: add to mark"),
      step(4, "Cables: add to mark"),
    ];
    expect(numbers([...strokes, step(5, "Cables: add to mark", { sweep: "b" })])).toEqual([
      [5],
      [4, 3],
      [2],
      [1],
    ]);
    expect(numbers([...strokes, step(5, "take 1 picked"), step(6, "Cables: add to mark")])).toEqual([
      [6],
      [5],
      [4, 3],
      [2],
      [1],
    ]);
  });

  it("never hides the present step, nor mixes in what was undone", () => {
    const steps = [
      step(2, "Cables: add to mark"),
      step(3, "Cables: add to mark", { now: true }),
      step(4, "Cables: add to mark"),
    ];
    expect(numbers(steps)).toEqual([[4], [3, 2]]);
    expect(numbers([steps[0] as Step, step(3, "Cables: add to mark", { on: false })])).toEqual([[3], [2]]);
    expect(numbers([steps[0] as Step, step(3, "Cables: add to mark", { parent: 1 })])).toEqual([[3], [2]]);
  });
});
