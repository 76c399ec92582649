import { describe, expect, it } from "vitest";
import { frameAt, useReady } from "./ready";

describe("what was finished elsewhere", () => {
  it("is counted by sweep until its frame is seen", () => {
    const { filled, seen } = useReady.getState();
    filled(4, "a");
    filled(4, "a");
    filled(4, "b");
    filled(7, "c");
    expect(useReady.getState().frames).toEqual({ 4: ["a", "b"], 7: ["c"] });
    seen(4);
    seen(9);
    expect(useReady.getState().frames).toEqual({ 7: ["c"] });
  });
  it("is elsewhere unless the desk of its frame is open", () => {
    expect([frameAt("/frames/12"), frameAt("/frames/12/deliver"), frameAt("/")]).toEqual([12, null, null]);
  });
});
