import { describe, expect, it } from "vitest";
import type { Desk, Sweep, Take } from "../../api/client";
import { lookNow, pictured, standing } from "./look";

const take = (id: number) => ({ id }) as Take;
const sweep = {
  ...{ id: "a", shown: true, takes: [take(1), take(2)], best: 2, pick: null, standing: null },
  ...{ provisional: false, state: "choose" },
} as unknown as Sweep;
const frame = { id: 1, provisional: 0 } as Desk["frame"];
const desk = (one: Sweep) => ({ revision: 9, pixels: "now", frame, sweeps: [one] }) as Desk;
const now = { revision: 9, provisional: 0 };
const plain = { selected: "a", viewed: null, asShot: false, before: false };

describe("what the picture shows", () => {
  it("is the best take until one is picked", () => {
    expect(lookNow(desk(sweep), plain)).toEqual({ ...now, sweep: "a", take: 2 });
    expect(lookNow(desk({ ...sweep, pick: 1, standing: 1 }), plain)).toEqual({ ...now });
  });
  it("is the provisional take without being asked for, and another one while that is looked at", () => {
    const stands = desk({ ...sweep, standing: 1, provisional: true, state: "provisional" });
    expect(lookNow(stands, plain)).toEqual(now);
    expect(lookNow(stands, { ...plain, viewed: 2 })).toEqual({ ...now, sweep: "a", take: 2 });
  });
  it("is as shot where the photographer decided so", () => {
    expect(standing({ ...sweep, state: "as shot" }, null)).toBe(0);
  });
  it("is the take looked at, and as shot on request", () => {
    const picked = desk({ ...sweep, pick: 1, standing: 1 });
    expect(lookNow(picked, { ...plain, viewed: 2 })).toEqual({ ...now, sweep: "a", take: 2 });
    expect(lookNow(picked, { ...plain, viewed: 0 })).toEqual({ ...now, sweep: "a", take: 0 });
    expect(lookNow(picked, { ...plain, before: true })).toEqual({ ...now, sweep: "a", take: 0 });
    expect(lookNow(picked, { ...plain, asShot: true })).toEqual({ ...now, shot: true });
  });
  it("is several sweeps as shot on request", () => {
    expect(lookNow(desk(sweep), { ...plain, before: true, also: ["b", "c"] })).toEqual({
      ...now,
      without: ["a", "b", "c"],
    });
  });
  it("keeps a sweep off that was switched off", () => {
    expect(lookNow(desk({ ...sweep, pick: 1, standing: 1, shown: false }), plain)).toEqual({ ...now });
  });
  it("stays the same revision while only masks change", () => {
    const at = (revision: number, pixels: string) => pictured({ revision, pixels, frame }).revision;
    expect([at(3, "a"), at(4, "a"), at(5, "b"), at(6, "b"), at(7, "a")]).toEqual([3, 3, 5, 5, 3]);
  });
  it("forgets a looked-at take that is not this sweep's", () => {
    expect(standing(sweep, 77)).toBe(2);
  });
});
