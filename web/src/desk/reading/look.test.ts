import { describe, expect, it } from "vitest";
import type { Desk, Sweep, Take } from "../../api/client";
import { lookNow, pictured, standing } from "./look";

const take = (id: number) => ({ id }) as Take;
const sweep = { id: "a", shown: true, takes: [take(1), take(2)], best: 2, pick: null } as unknown as Sweep;
const desk = (one: Sweep) => ({ revision: 9, pixels: "now", sweeps: [one] }) as Desk;
const plain = { selected: "a", viewed: null, asShot: false, before: false };

describe("what the picture shows", () => {
  it("is the best take until one is picked", () => {
    expect(lookNow(desk(sweep), plain)).toEqual({ revision: 9, sweep: "a", take: 2 });
    expect(lookNow(desk({ ...sweep, pick: 1 }), plain)).toEqual({ revision: 9 });
  });
  it("is the take looked at, and as shot on request", () => {
    const picked = desk({ ...sweep, pick: 1 });
    expect(lookNow(picked, { ...plain, viewed: 2 })).toEqual({ revision: 9, sweep: "a", take: 2 });
    expect(lookNow(picked, { ...plain, viewed: 0 })).toEqual({ revision: 9, sweep: "a", take: 0 });
    expect(lookNow(picked, { ...plain, before: true })).toEqual({ revision: 9, sweep: "a", take: 0 });
    expect(lookNow(picked, { ...plain, asShot: true })).toEqual({ revision: 9, shot: true });
  });
  it("is several sweeps as shot on request", () => {
    expect(lookNow(desk(sweep), { ...plain, before: true, also: ["b", "c"] })).toEqual({
      revision: 9,
      without: ["a", "b", "c"],
    });
  });
  it("keeps a sweep off that was switched off", () => {
    expect(lookNow(desk({ ...sweep, pick: 1, shown: false }), plain)).toEqual({ revision: 9 });
  });
  it("stays the same revision while only masks change", () => {
    const at = (revision: number, pixels: string) => pictured({ revision, pixels });
    expect([at(3, "a"), at(4, "a"), at(5, "b"), at(6, "b"), at(7, "a")]).toEqual([3, 3, 5, 5, 3]);
  });
  it("forgets a looked-at take that is not this sweep's", () => {
    expect(standing(sweep, 77)).toBe(2);
  });
});
