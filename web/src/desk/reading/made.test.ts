import { describe, expect, it } from "vitest";
import { aTake } from "../../testing/made";
import { madeBy, madeSo, madeWith } from "./made";

const part = (method: string) => ({
  method,
  why: "texture",
  box: { x: 0, y: 0, width: 4, height: 4 },
  area: 9,
});

describe("what a take was made with", () => {
  it("is its method, or those of its parts, each once", () => {
    expect(madeWith(aTake(1, { method: "weave", parts: [part("close")] }))).toBe("weave");
    const parts = [part("close + weave"), part("close"), part("borrow")];
    expect(madeWith(aTake(1, { method: "auto", parts }))).toBe("close + weave + borrow");
    expect(madeWith(aTake(1, { method: "auto", parts: [] }))).toBe("auto");
  });

  it("is told with its reason where there is one", () => {
    expect(madeSo(part("close + weave"))).toBe("close + weave: texture");
    expect(madeBy(aTake(1, { parts: [part("weave"), part("weave")] }))).toBe("weave: texture");
    expect(madeBy(aTake(1, { parts: [part("weave"), part("close")] }))).toBe("weave + close");
    expect(madeBy(aTake(1, { parts: [] }))).toBe("");
  });
});
