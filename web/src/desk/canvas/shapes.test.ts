import { describe, expect, it } from "vitest";
import { areaOf } from "./hatch";

const canvas = { width: 200, height: 100 };
const at = { x: 10, y: 20, scale: 0.5 };
const dot = { points: [[100, 60]] as [number, number][], size: 20, softness: 0, erase: false };

describe("the area of strokes on the canvas", () => {
  it("holds the stroke and its rim, and little more", () => {
    const area = areaOf([dot], at, canvas);
    expect(area.x).toBeLessThanOrEqual(60 - 5 - 2.5);
    expect(area.x).toBeGreaterThan(60 - 5 - 6);
    expect(area.x + area.width).toBeGreaterThanOrEqual(60 + 5 + 2.5);
  });
  it("is cut to the canvas, and empty beyond it", () => {
    const large = areaOf([{ ...dot, size: 5000 }], at, canvas);
    expect(large).toEqual({ x: 0, y: 0, ...canvas });
    const beyond = areaOf([{ ...dot, points: [[9000, 60]] }], at, canvas);
    expect(beyond.width).toBe(0);
  });
  it("does not grow by what is taken away", () => {
    expect(areaOf([{ ...dot, erase: true }], at, canvas).width).toBe(0);
  });
});
