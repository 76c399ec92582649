import { describe, expect, it } from "vitest";
import { fromSlide, LARGEST, SMALLEST, stepped, toSlide } from "./brush";

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
