import { describe, expect, it } from "vitest";
import type { Sweep } from "../../api/client";
import { stepOf, stepsBefore } from "./guide";

const sweep = (takes: number, pick: number | null, run: string | null = null) =>
  ({
    takes: Array.from({ length: takes }, (_, id) => ({ id })),
    pick,
    run: run && { state: run },
    state: run ? "filling" : "marked",
  }) as unknown as Sweep;

describe("the first minute", () => {
  it("goes from a mark to a kept take", () => {
    const walk = [undefined, sweep(0, null), sweep(0, null, "running"), sweep(3, null), sweep(3, 1)];
    const steps = walk.map((at) => stepOf({ sweeps: at ? [at] : [] }, at));
    expect(steps).toEqual(["mark", "fill", "wait", "choose", "judge"]);
  });
  it("is not begun again when nothing is chosen after a pick", () => {
    expect(stepOf({ sweeps: [sweep(3, 1)] }, undefined)).toBe("judge");
  });
  it("knows what came stepsBefore", () => {
    expect(stepsBefore("wait")).toEqual(["mark", "fill"]);
    expect(stepsBefore("mark")).toEqual([]);
  });
});
