import { describe, expect, it } from "vitest";
import { fromSlide, isLong, LARGEST, SMALLEST, stepped, toSlide } from "./brush";

describe("stepping the brush size", () => {
  it("always moves by at least a pixel and stays whole", () => {
    for (const size of [1, 2, 5, 48, 333]) {
      expect(stepped(size, true)).toBeGreaterThan(size);
      expect(Number.isInteger(stepped(size, true))).toBe(true);
      if (size > 1) expect(stepped(size, false)).toBeLessThan(size);
    }
  });
  it("stops at both ends", () => {
    expect(stepped(LARGEST, true)).toBe(LARGEST);
    expect(stepped(SMALLEST, false)).toBe(SMALLEST);
  });
});

describe("the slide for the size", () => {
  it("reaches both ends and goes back and forth", () => {
    expect(fromSlide(0)).toBe(SMALLEST);
    expect(fromSlide(100)).toBe(LARGEST);
    for (const at of [20, 50, 80]) expect(Math.abs(toSlide(fromSlide(at)) - at)).toBeLessThanOrEqual(1);
  });
});

describe("a long mark", () => {
  const stroke = (points: number[][], erase = false) => ({ strokes: [{ points, size: 20, erase }] });
  it("is one that spans far in either direction, brush included", () => {
    expect(
      isLong(
        stroke([
          [0, 0],
          [699, 5],
        ]),
      ),
    ).toBe(false);
    expect(
      isLong(
        stroke([
          [0, 0],
          [700, 5],
        ]),
      ),
    ).toBe(true);
    expect(
      isLong(
        stroke([
          [3, 10],
          [3, 900],
        ]),
      ),
    ).toBe(true);
  });
  it("is not made by taking away, nor by nothing", () => {
    expect(
      isLong(
        stroke(
          [
            [0, 0],
            [2000, 0],
          ],
          true,
        ),
      ),
    ).toBe(false);
    expect(isLong({ strokes: [] })).toBe(false);
  });
});
