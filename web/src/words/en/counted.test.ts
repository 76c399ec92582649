import { expect, test } from "vitest";
import { counted } from "./counted";

test("one is one, and all else is many", () => {
  expect([0, 1, 2, 21].map((count) => counted(count, "take"))).toEqual([
    "0 takes",
    "1 take",
    "2 takes",
    "21 takes",
  ]);
  expect(counted(2, "more of it", "more of them")).toBe("2 more of them");
});
