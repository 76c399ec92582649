import { expect, test } from "vitest";
import type { News } from "./client";
import { changesStanding } from "./events";

const run = (id: number, state: string, progress = 0) =>
  ({ kind: "run", shoot: null, frame: 1, window: null, run: { id, state, progress } }) as unknown as News;

test("how far a run is changes no standing, its state does", () => {
  const states = new Map<number, string>();
  expect(changesStanding(run(1, "running", 0.1), states)).toBe(true);
  expect(changesStanding(run(1, "running", 0.2), states)).toBe(false);
  expect(changesStanding(run(2, "running", 0.1), states)).toBe(true);
  expect(changesStanding(run(1, "done", 1), states)).toBe(true);
  expect(changesStanding({ ...run(1, "done"), kind: "take", run: null }, states)).toBe(true);
  expect(changesStanding({ ...run(1, "done"), kind: "finds", run: null }, states)).toBe(false);
});
