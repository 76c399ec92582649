import { describe, expect, it } from "vitest";
import type { Sweep } from "../../api/client";
import { columns, hung } from "./arrange";

const sweep = (...ids: number[]) => ({ takes: ids.map((id) => ({ id })) }) as unknown as Sweep;

describe("what hangs on the wall", () => {
  it("is as shot and every take, but for those that are out", () => {
    expect(hung(sweep(5, 6, 7), [], "all", 6)).toEqual([0, 5, 6, 7]);
    expect(hung(sweep(5, 6, 7), [5, 0], "all", 6)).toEqual([6, 7]);
  });

  it("keeps the one that stands, though it is out", () => {
    expect(hung(sweep(5, 6, 7), [6], "all", 6)).toEqual([0, 5, 6, 7]);
  });

  it("is no more than asked for, as shot among them", () => {
    expect(hung(sweep(5, 6, 7, 8), [], "2", 0)).toEqual([0, 8]);
    expect(hung(sweep(5, 6, 7, 8), [], "2", 6)).toEqual([0, 6]);
    expect(hung(sweep(5, 6, 7, 8), [], "3", 8)).toEqual([0, 7, 8]);
    expect(hung(sweep(1, 2, 3, 4, 5, 6, 7, 8), [], "all", 1)).toEqual([0, 1, 2, 3, 4, 5]);
  });
});

describe("its columns", () => {
  it("make the pictures as large as can be", () => {
    expect(columns(2, { width: 1200, height: 500 }, 1.5)).toBe(2);
    expect(columns(2, { width: 600, height: 900 }, 1.5)).toBe(1);
    expect(columns(4, { width: 1200, height: 800 }, 1.5)).toBe(2);
    expect(columns(6, { width: 1200, height: 600 }, 1.0)).toBe(3);
    expect(columns(1, { width: 100, height: 100 }, 1)).toBe(1);
  });
});
