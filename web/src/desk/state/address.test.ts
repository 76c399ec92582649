import { describe, expect, it } from "vitest";
import { read, written } from "./address";

describe("an address", () => {
  it("reads as it was written", () => {
    const said = { sweep: 3, take: 0, at: { x: 1440, y: 960, percent: 66.7 } };
    expect(read(written(said))).toEqual(said);
    expect(written({})).toBe("");
    expect(written({ take: 2 })).toBe("");
  });
  it("says nothing where it is not understood", () => {
    expect(read("?sweep=one&take=-1&at=3,x,100")).toEqual({});
    expect(read("?at=3,4,0")).toEqual({});
  });
});
