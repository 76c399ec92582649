import { describe, expect, it } from "vitest";
import { areaOf, type Drawn } from "./shapes";

const canvas = { width: 200, height: 100 };
const at = { x: 10, y: 20, scale: 0.5 };
const RIM = 3.5;
const CORNERS: [number, number][] = [
  [20, 20],
  [120, 20],
  [60, 100],
];
const dot = {
  kind: "stroke",
  points: [[100, 60]] as [number, number][],
  size: 20,
  softness: 0,
  erase: false,
} as const;
const area = (shape: Drawn) => areaOf([shape], at, RIM, canvas);

describe("the area of shapes on the canvas", () => {
  it("holds a stroke and its rim, and little more", () => {
    const found = area(dot);
    expect(found.x).toBeLessThanOrEqual(60 - 5 - 2.5);
    expect(found.x).toBeGreaterThan(60 - 5 - 6);
    expect(found.x + found.width).toBeGreaterThanOrEqual(60 + 5 + 2.5);
  });
  it("is cut to the canvas, and empty beyond it", () => {
    expect(area({ ...dot, size: 5000 })).toEqual({ x: 0, y: 0, ...canvas });
    expect(area({ ...dot, points: [[9000, 60]] as [number, number][] }).width).toBe(0);
  });
  it("does not grow by what is taken away", () => {
    expect(area({ ...dot, erase: true }).width).toBe(0);
  });
  it("holds all corners of an outline, whatever the brush", () => {
    const found = area({
      kind: "outline",
      points: CORNERS,
      erase: false,
    });
    expect(found.x).toBeLessThanOrEqual(20);
    expect(found.x + found.width).toBeGreaterThanOrEqual(70);
    expect(found.y + found.height).toBeGreaterThanOrEqual(70);
  });
});
