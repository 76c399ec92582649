import { describe, expect, it } from "vitest";
import type { Desk, Sweep, Take } from "../api/client";
import { lookNow, pictured, standing } from "./look";

const take = (id: number) => ({ id }) as Take;
const sweep = { id: "a", shown: true, takes: [take(1), take(2)], best: 2, pick: null } as unknown as Sweep;
const desk = (one: Sweep) => ({ revision: 9, sweeps: [one] }) as Desk;
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
    const frame = { id: 77 };
    const at = (revision: number, pick: number | null) =>
      pictured({ ...desk({ ...sweep, pick }), frame, revision } as Desk);
    expect([at(3, null), at(4, null), at(5, 1), at(6, 1), at(7, null)]).toEqual([3, 3, 5, 5, 3]);
  });
  it("forgets a looked-at take that is not this sweep's", () => {
    expect(standing(sweep, 77)).toBe(2);
  });
});
