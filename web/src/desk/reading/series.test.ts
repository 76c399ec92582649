import { describe, expect, it } from "vitest";
import type { Sister } from "../../api/client";
import { chosenBy } from "./chosenBy";
import { became, missing, nextDoubt, toApprove, toJudge, waiting } from "./series";

const sister = (id: number, more: Partial<Sister> = {}): Sister => ({
  id,
  name: `frame ${id}`,
  width: 60,
  height: 40,
  revision: id,
  provisional: 0,
  state: "marked",
  sweeps: 0,
  doubtful: [],
  marked: [],
  filling: [],
  carrying: null,
  error: null,
  elsewhere: false,
  landed: [],
  behind: [],
  offered: [],
  ...more,
});
const landing = (sweep: string, verdict: Sister["landed"][number]["verdict"]) => ({
  sweep,
  name: sweep,
  verdict,
  confidence: 0.5,
  made: null,
  box: null,
});

describe("from doubtful one to doubtful one", () => {
  const series = [sister(1), sister(2, { doubtful: ["a", "b"] }), sister(3), sister(4, { doubtful: ["c"] })];
  it("goes through a frame, on to the next that has any, and round", () => {
    expect(nextDoubt(series, 1, null)).toEqual({ frame: 2, sweep: "a" });
    expect(nextDoubt(series, 2, "a")).toEqual({ frame: 2, sweep: "b" });
    expect(nextDoubt(series, 2, "b")).toEqual({ frame: 4, sweep: "c" });
    expect(nextDoubt(series, 4, "c")).toEqual({ frame: 2, sweep: "a" });
    expect(nextDoubt(series, 3, "x")).toEqual({ frame: 4, sweep: "c" });
  });
  it("goes nowhere where nothing is doubtful", () => {
    expect(nextDoubt([sister(1)], 1, null)).toBeUndefined();
  });
});

it("says in words what became of what was carried", () => {
  expect(became(sister(1, { carrying: "running" }))).toBe("aligning");
  expect(became(sister(1, { carrying: "failed", error: "Another place." }))).toBe("Another place.");
  const unlike = "b.jpg does not show the same place as a.jpg.";
  expect(became(sister(1, { carrying: "failed", error: unlike, elsewhere: true }))).toBe("another place");
  const landed = [landing("a", "landed"), landing("b", "not there"), landing("c", "landed")];
  expect(became(sister(1, { carrying: "done", landed }))).toBe("2 landed, 1 not there");
  expect(missing(sister(1, { landed }))).toEqual(["b"]);
});

it("counts what waits in the frames that are chosen, or in all but the first", () => {
  const series = [
    sister(1, { marked: ["x"] }),
    sister(2, { marked: ["a", "b"] }),
    sister(3, { marked: ["c"] }),
  ];
  expect(waiting(series, [], 1)).toBe(3);
  expect(waiting(series, [3], 1)).toBe(1);
});

describe("choosing frames", () => {
  const order = [1, 2, 3, 4, 5];
  it("takes one alone, and lets it go again", () => {
    expect(chosenBy(order, [], 3, { shift: false, one: false })).toEqual([3]);
    expect(chosenBy(order, [3], 3, { shift: false, one: false })).toEqual([]);
    expect(chosenBy(order, [3], 4, { shift: false, one: true })).toEqual([3, 4]);
    expect(chosenBy(order, [3, 4], 3, { shift: false, one: true })).toEqual([4]);
  });
  it("takes all up to a click with Shift, either way", () => {
    expect(chosenBy(order, [2], 4, { shift: true, one: false }).sort()).toEqual([2, 3, 4]);
    expect(chosenBy(order, [4], 1, { shift: true, one: false }).sort()).toEqual([1, 2, 3, 4]);
  });

  it("is approved when it was filled, and says what is still to choose", () => {
    const offered = sister(1, { state: "to choose", offered: [7] });
    const doubtful = sister(2, { state: "doubtful" });
    const done = sister(3, { state: "done" });
    const marked = sister(4, { marked: ["a"] });
    const busy = sister(5, { state: "doubtful", filling: ["a"] });
    expect([offered, doubtful, done, marked, busy].map(toApprove)).toEqual([true, true, false, false, false]);
    expect(toJudge([done])).toBe("All are approved.");
    expect(toJudge([done, doubtful])).toBe(
      "Approves all that are not approved yet. Or approve them one by one.",
    );
    expect(toJudge([offered, marked])).toMatch(/1 without a picked take.*1 not filled yet/);
    expect(toJudge([marked])).toBe("1 not filled yet.");
  });
});
