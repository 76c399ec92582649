import { expect, test } from "vitest";
import { type Upload, underWay } from "./upload";

const one = (state: Upload["state"], share: number, size: number): Upload => ({
  id: 1,
  name: "a",
  size,
  share,
  state,
});

test("progress goes by bytes, and what failed is through as well", () => {
  const some = [one("done", 1, 100), one("failed", 1, 200), one("waiting", 0, 700)];
  expect(underWay(some, 30)).toEqual({ share: 0.3, through: 2, left: 70 });
});

test("what is sent is not through before it was read and checked", () => {
  expect(underWay([one("checking", 1, 100)], 9).share).toBe(0.9);
});

test("nothing is said of the time left at first", () => {
  expect(underWay([one("waiting", 0, 100)], 60).left).toBeUndefined();
  expect(underWay([one("sending", 0.5, 100)], 0.2).left).toBeUndefined();
});
