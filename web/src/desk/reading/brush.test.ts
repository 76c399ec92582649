import { describe, expect, it } from "vitest";
import { isLong, LARGEST, LONG, SMALLEST, stepped } from "./brush";

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

describe("a long mark", () => {
  it("is one that spans far in either direction", () => {
    const box = (width: number, height: number) => ({ box: { x: 0, y: 0, width, height } });
    expect(isLong(box(LONG - 1, 5))).toBe(false);
    expect(isLong(box(LONG, 5))).toBe(true);
    expect(isLong(box(5, LONG))).toBe(true);
    expect(isLong(box(0, 0))).toBe(false);
  });
});
