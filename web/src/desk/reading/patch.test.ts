import { describe, expect, it } from "vitest";
import { LEAST, patchOf } from "./patch";

describe("the patch between two corners", () => {
  it("is in picture pixels, whichever way it was pulled up", () => {
    const box = { x: 100, y: 50, width: 200, height: 150 };
    expect(patchOf([50, 25, 150, 100], 0.5, 1000, 800)).toEqual(box);
    expect(patchOf([150, 100, 50, 25], 0.5, 1000, 800)).toEqual(box);
  });
  it("stays inside the picture", () => {
    expect(patchOf([-40, 300, 900, 5000], 1, 640, 480)).toEqual({ x: 0, y: 300, width: 640, height: 180 });
  });
  it("is none when it is too small to draw from", () => {
    expect(patchOf([10, 10, 10 + LEAST - 1, 200], 1, 640, 480)).toBeNull();
    expect(patchOf([10, 10, 10, 10], 1, 640, 480)).toBeNull();
  });
});
