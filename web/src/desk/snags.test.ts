import { describe, expect, it } from "vitest";
import type { Snag, Sweep } from "../api/client";
import { fades, openSnags } from "./snags";

const snag = (id: number, take: number, visible: number, dismissed = false) =>
  ({ id, take, visible, dismissed }) as Snag;

describe("snags", () => {
  it("of the take that stands are listed, unless they were dismissed", () => {
    const sweep = { snags: [snag(1, 7, 1), snag(2, 8, 1), snag(3, 7, 1, true)] } as Sweep;
    expect(openSnags(sweep, 7).map((each) => each.id)).toEqual([1]);
  });
  it("fade at a delivery size below the scale at which they were last found", () => {
    const frame = { width: 4000 };
    expect(fades(snag(1, 1, 1), frame, 2048)).toBe(true);
    expect(fades(snag(1, 1, 0.5), frame, 2048)).toBe(false);
    expect(fades(snag(1, 1, 0.5), frame, 1200)).toBe(true);
    expect(fades(snag(1, 1, 0.25), frame, 1200)).toBe(false);
  });
});
