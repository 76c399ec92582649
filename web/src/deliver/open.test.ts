import { describe, expect, it } from "vitest";
import type { Desk, Standing } from "../api/client";
import { openAmong, openIn, provisionalAmong, provisionalIn } from "./open";

const sweeps = (...each: { takes: number; pick?: number; provisional?: number; shown?: boolean }[]) =>
  each.map(({ takes, pick, provisional, shown = true }, k) => ({
    number: k + 1,
    takes: Array.from({ length: takes }),
    pick: pick ?? null,
    standing: pick ?? provisional ?? null,
    provisional: provisional !== undefined,
    shown,
  })) as unknown as Desk["sweeps"];
const standings = (...states: Standing["state"][]) => states.map((state) => ({ state }) as Standing);

describe("what is still open before a delivery", () => {
  it("is nothing where every sweep has its take or is switched off", () => {
    expect(openIn(sweeps({ takes: 3, pick: 7 }, { takes: 3, shown: false }))).toBe("");
    expect(openAmong(standings("done", "delivered", "untouched"))).toBe("");
  });

  it("is said with how many are to choose and how many were never filled", () => {
    expect(openIn(sweeps({ takes: 3 }, { takes: 3 }, { takes: 0 }, { takes: 1, pick: 2 }))).toBe(
      "2 sweeps have no picked take, 1 sweep is not filled. The picture is delivered as shot there.",
    );
    expect(openIn(sweeps({ takes: 1 }))).toMatch(/^1 sweep has no picked take\./);
  });

  it("is counted by pictures where there are several", () => {
    expect(openAmong(standings("done", "to choose", "marked", "filling"))).toMatch(/^3 of 4 pictures/);
  });

  it("leaves out what stands provisionally, which is counted by itself", () => {
    const some = sweeps({ takes: 3, provisional: 4 }, { takes: 1, provisional: 2, shown: false });
    expect([openIn(some), provisionalIn(7, some)]).toEqual(["", { sweeps: 1, at: "/frames/7?sweep=1" }]);
    const among = [0, 2, 3].map((provisional, id) => ({ id, provisional }) as Standing);
    expect(provisionalAmong(among)).toEqual({ sweeps: 5, at: "/frames/1" });
  });
});
