import { describe, expect, it } from "vitest";
import type { Frame, Standing } from "../api/client";
import { among, counts, rowsIn, touched } from "./among";

const frames = [1, 2, 3, 4].map((id) => ({ id, name: `f-${id}` })) as unknown as Frame[];
const standings = new Map(
  (["done", "marked", "doubtful", "marked"] as const).map((state, k) => [
    k + 1,
    { id: k + 1, state, sweeps: 1, doubtful: 0, marked: 0 } as Standing,
  ]),
);
const ids = (shown: Frame[]) => shown.map((frame) => frame.id);

describe("the frames of a shoot", () => {
  it("are shown by state, in the order asked for", () => {
    expect(ids(among(frames, standings, "all", "name"))).toEqual([1, 2, 3, 4]);
    expect(ids(among(frames, standings, "marked", "name"))).toEqual([2, 4]);
    expect(ids(among(frames, standings, "all", "state"))).toEqual([2, 4, 3, 1]);
    expect(ids(among(frames, standings, "all", "newest"))).toEqual([4, 3, 2, 1]);
    expect(ids(among(frames, new Map(), "untouched", "name"))).toEqual([1, 2, 3, 4]);
  });
  it("are sought by their names", () => {
    expect(ids(among(frames, standings, "all", "name", " F-3"))).toEqual([3]);
    expect(ids(among(frames, standings, "marked", "name", "f-3"))).toEqual([]);
  });
  it("are counted", () => {
    expect(counts(standings.values()).get("marked")).toBe(2);
    expect(counts(standings.values()).get("untouched")).toBeUndefined();
  });
});

describe("cards in rows", () => {
  it("fill the width", () => {
    const rows = rowsIn(1000);
    expect(rows.columns).toBe(4);
    expect(rows.columns * rows.wide + 3 * rows.gap).toBeCloseTo(1000);
    expect(rowsIn(100).columns).toBe(1);
  });
  it("are touched by a box over any part of them", () => {
    const rows = { columns: 3, wide: 100, tall: 100, gap: 10 };
    expect(touched({ left: 90, top: 90, right: 115, bottom: 115 }, 9, rows)).toEqual([0, 1, 3, 4]);
    expect(touched({ left: 101, top: 0, right: 109, bottom: 90 }, 9, rows)).toEqual([]);
    expect(touched({ left: 0, top: 0, right: 400, bottom: 400 }, 7, rows)).toEqual([0, 1, 2, 3, 4, 5, 6]);
  });
});
