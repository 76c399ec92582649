import { expect, test } from "vitest";
import { onScreen, SIZES } from "./delivery";

test("a print is as wide on the screen as it is in the eye", () => {
  // What is seen from as far as the screen keeps its size: 254 mm are 960 pixels.
  expect(onScreen(254, 600)).toBe(960);
  expect(onScreen(254, 1200)).toBe(480);
  expect(SIZES["A4 in the hand"]).toBe(1684);
});
