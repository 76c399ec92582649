import { describe, expect, it } from "vitest";
import { boxRound, inView } from "./farSource";

describe("a source outside the view", () => {
  it("is told from one inside", () => {
    const at = { x: -100, y: 20, scale: 0.5 };
    const view = { width: 400, height: 300 };
    expect(inView([300, 100], at, view)).toBe(true);
    expect(inView([100, 100], at, view)).toBe(false);
    expect(inView([300, 600], at, view)).toBe(false);
  });
  it("is fetched with what lies round it, within the picture", () => {
    expect(boxRound({ width: 500, height: 400 }, 490, 100, 60)).toEqual({
      x: 430,
      y: 40,
      width: 70,
      height: 120,
    });
  });
});
