import { expect, test } from "vitest";
import { about, LIKE_THE_ORIGINAL, query } from "./wanted";

const jpeg = { format: "jpeg", depth: 8 } as const;
const raw = { format: "raw", depth: 16 } as const;

test("what a kind is depends on what came in", () => {
  expect(about("same", [jpeg], LIKE_THE_ORIGINAL)).toContain("without loss");
  expect(about("same", [raw], LIKE_THE_ORIGINAL)).toMatch(/^TIFF/);
  expect(about("same", [jpeg, raw], LIKE_THE_ORIGINAL)).toBe("Each in its original format");
  expect(about("jpeg", [raw], LIKE_THE_ORIGINAL)).toContain("rounded");
  expect(about("png", [raw, jpeg], LIKE_THE_ORIGINAL)).toMatch(/^16 bit/);
  expect(about("web", [jpeg], { ...LIKE_THE_ORIGINAL, longest: 900 })).toContain("900 px");
});

test("a wish is told as a query, frames again and again", () => {
  const told = new URLSearchParams(
    query({ ...LIKE_THE_ORIGINAL, pattern: "{name} & more" }, [
      ["frames", 3],
      ["frames", 4],
    ]),
  );
  expect(told.get("pattern")).toBe("{name} & more");
  expect(told.getAll("frames")).toEqual(["3", "4"]);
  expect(told.get("sharpen")).toBe("true");
});
