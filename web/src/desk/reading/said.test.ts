import { describe, expect, it } from "vitest";
import type { Sweep } from "../../api/client";
import { said } from "./said";

const sweep = (told: object) =>
  ({
    shown: true,
    takes: [{ id: 3 }, { id: 8 }],
    run: null,
    pick: null,
    standing: null,
    ...told,
  }) as unknown as Sweep;

describe("the state of a sweep in words", () => {
  it("tells how far a fill is, and how long it takes, if that is known", () => {
    const run = { state: "running", progress: 0.404, seconds_left: 6.6 };
    expect(said(sweep({ state: "filling", run }))).toBe("filling 40 % · 7 s left");
    expect(said(sweep({ state: "filling", run: { ...run, seconds_left: null } }))).toBe("filling 40 %");
    expect(said(sweep({ state: "filling", run: { ...run, seconds_left: 0.1 } }))).toBe(
      "filling 40 % · 1 s left",
    );
  });
  it("tells which take was kept, and whether it is off or the last fill failed", () => {
    expect(said(sweep({ state: "kept", pick: 8, standing: 8 }))).toBe("✓ kept · take 2");
    expect(said(sweep({ state: "kept", pick: 8, standing: 8, shown: false }))).toBe("✓ kept · take 2 · off");
    const run = { state: "failed" };
    expect(said(sweep({ state: "kept", pick: 3, standing: 3, run }))).toBe(
      "✓ kept · take 1 · last fill failed",
    );
  });
  it("tells which take stands though nobody picked it, and that none is wanted", () => {
    expect(said(sweep({ state: "provisional", standing: 8, provisional: true }))).toBe(
      "○ provisional · take 2 of 2",
    );
    expect(said(sweep({ state: "as shot" }))).toBe("left as shot");
  });
  it("counts what there is to choose from", () => {
    expect(said(sweep({ state: "choose" }))).toBe("choose · 2 takes");
    expect(said(sweep({ state: "choose", takes: [{ id: 1 }] }))).toBe("choose · 1 take");
    expect(said(sweep({ state: "failed", takes: [] }))).toBe("fill failed");
    expect(said(sweep({ state: "marked", takes: [], shown: false }))).toBe("marked · off");
  });
});
