import { describe, expect, it } from "vitest";
import { COLOURS } from "../state/looking";
import { GUARDED } from "./paint/marks";

type Three = [number, number, number];

/** How colours look without one kind of cones: Machado, Oliveira & Fernandes 2009, severity 1, for linear sRGB (from
 * memory; that white stays white is checked below). */
const EYES: Record<string, [Three, Three, Three]> = {
  "all cones": [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ],
  protanopia: [
    [0.152286, 1.052583, -0.204868],
    [0.114503, 0.786281, 0.099216],
    [-0.003882, -0.048116, 1.051998],
  ],
  deuteranopia: [
    [0.367322, 0.860646, -0.227968],
    [0.280085, 0.672501, 0.047413],
    [-0.01182, 0.04294, 0.968881],
  ],
  tritanopia: [
    [1.255528, -0.076749, -0.178779],
    [-0.078411, 0.930809, 0.147602],
    [0.004733, 0.691367, 0.3039],
  ],
};
/** CIE76 differences above this are plain even in small areas (common practice, no source). */
const PLAIN = 20;

const linear = (hex: string) =>
  [1, 3, 5].map((at) => {
    const value = Number.parseInt(hex.slice(at, at + 2), 16) / 255;
    return value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4;
  }) as Three;
const times = (matrix: [Three, Three, Three], [r, g, b]: Three) =>
  matrix.map((row) => Math.min(1, Math.max(0, row[0] * r + row[1] * g + row[2] * b))) as Three;
/** CIE L*a*b* of linear sRGB, white D65 (IEC 61966-2-1, CIE 15). */
const lab = (rgb: Three): Three => {
  const xyz = times(
    [
      [0.4124 / 0.9505, 0.3576 / 0.9505, 0.1805 / 0.9505],
      [0.2126, 0.7152, 0.0722],
      [0.0193 / 1.089, 0.1192 / 1.089, 0.9505 / 1.089],
    ],
    rgb,
  );
  const [x, y, z] = xyz.map((t) =>
    t > (6 / 29) ** 3 ? Math.cbrt(t) : t / (3 * (6 / 29) ** 2) + 4 / 29,
  ) as Three;
  return [116 * y - 16, 500 * (x - y), 200 * (y - z)];
};
const seen = (eyes: string, hex: string) => lab(times(EYES[eyes] as [Three, Three, Three], linear(hex)));
const apart = (a: Three, b: Three) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

describe.each(Object.keys(EYES))("to eyes with %s", (eyes) => {
  it("white is white", () => {
    const [light, a, b] = seen(eyes, "#ffffff");
    expect(light).toBeCloseTo(100, 1);
    expect(Math.hypot(a, b)).toBeLessThan(0.5);
  });
  it.each(COLOURS)("a mask in %s (%s) is told from what is guarded", (colour) => {
    expect(apart(seen(eyes, colour), seen(eyes, GUARDED.colour))).toBeGreaterThan(PLAIN);
  });
  it("masks of different colours are told from one another", () => {
    const pairs = COLOURS.flatMap(([a], i) => COLOURS.slice(i + 1).map(([b]) => [a, b] as const));
    const alike = pairs.filter(([a, b]) => apart(seen(eyes, a), seen(eyes, b)) < PLAIN);
    expect(alike).toEqual([]);
  });
});
