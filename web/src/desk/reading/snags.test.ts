import { describe, expect, it } from "vitest";
import type { Snag, Sweep } from "../../api/client";
import { fades, openSnags, snagAfter } from "./snags";

const snag = (id: number, take: number, visible: number, dismissed = false) =>
  ({ id, take, visible, dismissed }) as Snag;

describe("snags", () => {
  it("of the take that stands are listed, unless they were dismissed", () => {
    const sweep = { snags: [snag(1, 7, 1), snag(2, 8, 1), snag(3, 7, 1, true)] } as Sweep;
    expect(openSnags(sweep, 7).map((each) => each.id)).toEqual([1]);
  });
  it("are walked through over all sweeps that show, and round again", () => {
    const sweep = (id: string, take: number, shown: boolean, ...snags: Snag[]) =>
      ({ id, shown, pick: take, best: null, takes: [{ id: take }], snags }) as unknown as Sweep;
    const desk = {
      sweeps: [
        sweep("a", 7, true, snag(1, 7, 1), snag(2, 7, 1)),
        sweep("b", 8, false, snag(3, 8, 1)),
        sweep("c", 9, true, snag(4, 9, 1), snag(5, 6, 1)),
      ],
    };
    const walk = (from: number | null, selected: string | null) =>
      snagAfter(desk, selected, null, from)?.snag.id;
    expect([walk(null, "c"), walk(null, null), walk(1, "a"), walk(2, "a"), walk(4, "c")]).toEqual([
      4, 1, 2, 4, 1,
    ]);
    expect(snagAfter({ sweeps: [] }, null, null, null)).toBeUndefined();
  });
  it("fade at a delivery size below the scale at which they were last found", () => {
    const frame = { width: 4000 };
    expect(fades(snag(1, 1, 1), frame, 2048)).toBe(true);
    expect(fades(snag(1, 1, 0.5), frame, 2048)).toBe(false);
    expect(fades(snag(1, 1, 0.5), frame, 1200)).toBe(true);
    expect(fades(snag(1, 1, 0.25), frame, 1200)).toBe(false);
  });
});
