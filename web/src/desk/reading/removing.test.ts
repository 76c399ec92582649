import { describe, expect, it } from "vitest";
import type { Run, Sweep } from "../../api/client";
import { aSweep } from "../../testing/made";
import { progressOf } from "./removing";

const sweep = (id: string, state: Sweep["state"], progress = 0) =>
  aSweep({ id, state, run: { id: Number(id), progress } as Run });

describe("a removal of several things", () => {
  it("is as far as its sweeps are, and foretells the rest by what was done", () => {
    const sweeps = [sweep("1", "provisional"), sweep("2", "filling", 0.5), sweep("3", "waiting")];
    const other = sweep("4", "filling", 0.9);
    expect(progressOf({ sweeps: [...sweeps, other] }, ["1", "2", "3"], 6)).toEqual({
      ...{ done: 1, of: 3, share: 0.5, left: 6 },
      runs: [2, 3],
    });
  });

  it("says no time before anything is done, and nothing at all once it is over", () => {
    expect(progressOf({ sweeps: [sweep("1", "waiting")] }, ["1"], 3)?.left).toBeNull();
    expect(progressOf({ sweeps: [sweep("1", "failed"), sweep("2", "kept")] }, ["1", "2"], 3)).toBeNull();
  });
});
