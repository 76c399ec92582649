import { describe, expect, it } from "vitest";
import type { Desk, Sweep } from "../../api/client";
import { againstAfter, chosen, isBusy, sweepAfter, takeAfter } from "./sweeps";

const sweep = { id: "b", state: "choose", takes: [{ id: 4 }, { id: 7 }] } as Sweep;
const desk = { sweeps: [{ id: "a" }, sweep, { id: "c" }] } as Desk;

describe("going round", () => {
  it("steps through the takes with the picture as shot before the first", () => {
    expect([0, 4, 7].map((at) => takeAfter(sweep, at, 1))).toEqual([4, 7, 0]);
    expect([0, 4, 7].map((at) => takeAfter(sweep, at, -1))).toEqual([7, 0, 4]);
  });
  it("never compares a take with itself", () => {
    expect(againstAfter(sweep, 4, 0)).toBe(7);
    expect(againstAfter(sweep, 4, 7)).toBe(0);
    expect(againstAfter(sweep, 0, 99)).toBe(4);
  });
  it("stops at the first and the last sweep, and begins at the first", () => {
    expect(sweepAfter(desk, "a", -1)?.id).toBe("a");
    expect(sweepAfter(desk, "b", 1)?.id).toBe("c");
    expect(sweepAfter(desk, "c", 1)?.id).toBe("c");
    expect(sweepAfter(desk, null, 1)?.id).toBe("a");
    expect(sweepAfter({ ...desk, sweeps: [] }, null, 1)).toBeUndefined();
  });
  it("knows the chosen one, and whether a sweep is being filled", () => {
    expect(chosen(desk, "b")).toBe(sweep);
    expect(chosen(desk, null)).toBeUndefined();
    expect(isBusy(sweep)).toBe(false);
    expect(isBusy({ ...sweep, state: "stopping" })).toBe(true);
  });
});
