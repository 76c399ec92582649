import { describe, expect, it } from "vitest";
import type { Desk, Run, Sweep } from "./client";
import { withRun } from "./events";
import { newer } from "./queries";
import { framed, lookQuery } from "./views";

describe("framing a box for a crop", () => {
  const picture = { width: 3000, height: 2000 };
  it("keeps the shape and stays inside the picture", () => {
    for (const box of [
      { x: 0, y: 0, width: 10, height: 900 },
      { x: 2900, y: 1900, width: 100, height: 100 },
      { x: 0, y: 0, width: 3000, height: 2000 },
    ]) {
      const crop = framed(box, picture, 1.6);
      expect(crop.x).toBeGreaterThanOrEqual(0);
      expect(crop.y).toBeGreaterThanOrEqual(0);
      expect(crop.x + crop.width).toBeLessThanOrEqual(picture.width);
      expect(crop.y + crop.height).toBeLessThanOrEqual(picture.height);
      expect(crop.width / crop.height).toBeCloseTo(1.6, 1);
    }
  });
  it("shows all of a box that fits", () => {
    const crop = framed({ x: 1000, y: 800, width: 200, height: 100 }, picture, 1.6);
    expect(crop.x).toBeLessThanOrEqual(1000);
    expect(crop.x + crop.width).toBeGreaterThanOrEqual(1200);
  });
});

describe("the address of a look", () => {
  it("tells as shot, a revision, and a take in place apart", () => {
    expect(lookQuery({ revision: 4, shot: true })).toBe("shot=true");
    expect(lookQuery({ revision: 4 })).toBe("revision=4");
    expect(lookQuery({ revision: 4, sweep: "a", take: 0 })).toBe("revision=4&sweep=a&take=0");
  });
});

describe("news of a run", () => {
  const run = { id: 7, sweep_id: "a", state: "running", progress: 0.1 } as Run;
  const desk = { sweeps: [{ id: "a", run } as Sweep] } as Desk;
  it("moves the progress of the same run", () => {
    expect(withRun(desk, { ...run, progress: 0.6 })?.sweeps[0]?.run?.progress).toBe(0.6);
  });
  it("asks for the desk again when the state changed", () => {
    expect(withRun(desk, { ...run, state: "done" })).toBeUndefined();
    expect(withRun(desk, { ...run, id: 8 })).toBeUndefined();
  });
});

describe("two states of the desk", () => {
  const at = (news: number, revision: number) => ({ news, revision }) as Desk;
  it("gives way to the one that knows of more, whichever comes last", () => {
    expect(newer(undefined, at(3, 1)).revision).toBe(1);
    expect(newer(at(3, 1), at(4, 2)).revision).toBe(2);
    expect(newer(at(4, 2), at(3, 1)).revision).toBe(2);
    expect(newer(at(4, 2), at(4, 3)).revision).toBe(3);
  });
});
