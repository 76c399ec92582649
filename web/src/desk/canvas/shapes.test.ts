import { describe, expect, it } from "vitest";
import { areaOf, cutShort, cutTo, type Drawn } from "./shapes";

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

describe("a shape of more points than the server takes", () => {
  const long = {
    kind: "stroke",
    points: Array.from({ length: 9 }, (_, k) => [k, k] as [number, number]),
    pressure: Array.from({ length: 9 }, (_, k) => k / 10),
    size: 20,
    softness: 0,
    erase: false,
  } as const;

  it("is cut with its pressures, and stays as it was itself", () => {
    const cut = cutTo({ ...long, points: [...long.points], pressure: [...long.pressure] }, 4);
    expect(cut.points).toHaveLength(4);
    expect(cut.kind === "stroke" && cut.pressure).toEqual([0, 0.1, 0.2, 0.3]);
    expect(long.points).toHaveLength(9);
  });

  it("is cut in place where it is known by itself", () => {
    const laid = { ...long, points: [...long.points], pressure: [...long.pressure] };
    cutShort(laid, 4);
    expect([laid.points.length, laid.pressure.length]).toEqual([4, 4]);
    cutShort(laid, 40);
    expect([laid.points.length, laid.pressure.length]).toEqual([4, 4]);
  });
});
