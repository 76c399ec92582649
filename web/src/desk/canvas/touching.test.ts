import { describe, expect, it } from "vitest";
import { copiedFrom, isTouch, sourceAt } from "./touching";

const held = {
  tool: "clone",
  source: { at: [10, 20] as [number, number], to: null },
  aligned: true,
  mirror: false,
  turn: 0,
  strength: 100,
};

describe("the source of a touch-up brush", () => {
  it("is laid where the first stroke begins, and stays there while strokes are aligned", () => {
    expect(sourceAt(held, [100, 50])?.to).toEqual([100, 50]);
    const begun = { ...held, source: { at: held.source.at, to: [100, 50] as [number, number] } };
    expect(sourceAt(begun, [300, 300])?.to).toEqual([100, 50]);
    expect(sourceAt({ ...begun, aligned: false }, [300, 300])?.to).toEqual([300, 300]);
  });
  it("is none for bringing back, or while none is set", () => {
    expect(sourceAt({ ...held, tool: "bring back" }, [1, 1])).toBeNull();
    expect(sourceAt({ ...held, source: null }, [1, 1])).toBeNull();
    expect(isTouch("heal")).toBe(true);
    expect(isTouch("brush")).toBe(false);
  });
  it("turns and mirrors as the core does", () => {
    const to = [100, 50] as [number, number];
    expect(copiedFrom({ at: [10, 20], to, turn: 0, mirror: false }, [103, 54])).toEqual([13, 24]);
    expect(copiedFrom({ at: [10, 20], to, turn: 0, mirror: true }, [103, 54])).toEqual([7, 24]);
    const [x, y] = copiedFrom({ at: [10, 20], to, turn: 90, mirror: false }, [103, 54]);
    // What lies right of the source comes to lie below its place when it is turned clockwise.
    expect([Math.round(x), Math.round(y)]).toEqual([14, 17]);
  });
});
