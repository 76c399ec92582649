import { QueryClient } from "@tanstack/react-query";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Desk, Scouts } from "../../api/client";
import { deskKey, scoutsKey } from "../../api/queries";
import { useDeskState } from "../state/state";
import { FrameDoing } from "./frame";

const at = (news: number, finds = "none") => ({ news, finds, revision: news, sweeps: [] }) as unknown as Desk;
const later = () => new Promise<void>((resolve) => setTimeout(resolve, 5));

describe("what is done to a frame", () => {
  let queries: QueryClient;
  let doing: FrameDoing;
  beforeEach(() => {
    vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => undefined });
    queries = new QueryClient({ defaultOptions: { mutations: { networkMode: "always" } } });
    queries.setQueryData(deskKey(3), at(1));
    doing = new FrameDoing(3, queries);
    useDeskState.getState().set({ problem: null });
  });

  it("happens in the order asked for, however long each takes", async () => {
    const done: number[] = [];
    const slow = doing.inTurn(async () => {
      await later();
      done.push(1);
      return at(2);
    });
    const quick = doing.inTurn(async () => {
      done.push(2);
      return at(3);
    });
    await Promise.all([slow, quick]);
    expect(done).toEqual([1, 2]);
    expect(doing.desk()?.revision).toBe(3);
  });

  it("goes on after something went wrong, which is said", async () => {
    const broken = doing.inTurn(async () => {
      throw new Error("The library cannot be written.");
    });
    const next = doing.inTurn(async () => at(4));
    expect(await broken).toBeUndefined();
    expect((await next)?.revision).toBe(4);
    expect(useDeskState.getState().problem).toBe("The library cannot be written.");
    expect(doing.desk()?.revision).toBe(4);
  });

  it("shows the desk out of any answer, and none that knows less than what is shown", () => {
    doing.take({ desk: at(7) });
    expect(doing.desk()?.revision).toBe(7);
    doing.take(at(6));
    expect(doing.desk()?.revision).toBe(7);
    doing.take(null);
    expect(doing.desk()?.revision).toBe(7);
  });

  it("asks for the finds anew only when others are open", () => {
    const asked = vi.spyOn(queries, "invalidateQueries");
    doing.take(at(8));
    expect(asked).not.toHaveBeenCalled();
    doing.take(at(9, "one more"));
    expect(asked).toHaveBeenCalledWith({ queryKey: scoutsKey(3) });
  });

  it("shows the finds out of an answer about them", () => {
    const scouts = { scouts: [], finds: [] } as Scouts;
    doing.take({ scouts });
    expect(queries.getQueryData(scoutsKey(3))).toEqual(scouts);
    doing.take(scouts);
    expect(doing.desk()?.revision).toBe(1);
  });
});
