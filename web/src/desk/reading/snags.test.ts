import { describe, expect, it } from "vitest";
import type { Snag, Sweep } from "../../api/client";
import { fades, faultsOf, openSnags, snagAfter, triedBefore } from "./snags";

const at = (x: number) => ({ x, y: 0, width: 10, height: 10 });
const snag = (id: number, take: number, visible: number, dismissed = false) =>
  ({ id, take, visible, dismissed, kind: `kind ${id}`, strength: 1, box: at(0) }) as unknown as Snag;

describe("snags", () => {
  it("of the take that stands are listed, unless they were dismissed", () => {
    const sweep = { snags: [snag(1, 7, 1), snag(2, 8, 1), snag(3, 7, 1, true)] } as Sweep;
    expect(openSnags(sweep, 7).map((each) => each.id)).toEqual([1]);
  });
  it("are walked through over all sweeps that show, and round again", () => {
    const sweep = (id: string, take: number, shown: boolean, ...snags: Snag[]) =>
      ({
        id,
        shown,
        pick: take,
        standing: take,
        best: null,
        takes: [{ id: take }],
        snags,
      }) as unknown as Sweep;
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
  it("of one kind that lie together are one fault, the worst first", () => {
    const repeat = (id: number, x: number, strength: number, kind = "repeat") =>
      ({ id, take: 1, kind, strength, box: at(x) }) as unknown as Snag;
    const faults = faultsOf([
      repeat(1, 0, 0.2),
      repeat(2, 15, 0.5),
      repeat(3, 200, 0.4),
      repeat(4, 5, 0.9, "softness"),
    ]);
    expect(faults.map(({ worst, all }) => [worst.id, all.length])).toEqual([
      [4, 1],
      [2, 2],
      [3, 1],
    ]);
    expect(faults[1]?.box).toEqual({ x: 0, y: 0, width: 25, height: 10 });
  });
  it("that a mend or another fill left where they were say so", () => {
    const takes = [
      { id: 1, batch: 1, method: "weave" },
      { id: 2, batch: 1, method: "weave" },
      { id: 3, batch: 1, method: "mend" },
      { id: 4, batch: 2, method: "weave" },
    ];
    const soft = (id: number, take: number, x = 0) =>
      ({ id, take, kind: "softness", strength: 1, box: at(x) }) as unknown as Snag;
    const snags = [soft(1, 1), soft(2, 2), soft(3, 3), soft(4, 4), soft(5, 4, 90)];
    const sweep = { takes, snags } as unknown as Sweep;
    expect(snags.map((each) => triedBefore(sweep, each))).toEqual([
      null,
      null,
      "mended, still visible",
      "filled again, still visible",
      null,
    ]);
  });
});
