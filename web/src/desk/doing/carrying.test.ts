import { QueryClient } from "@tanstack/react-query";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { api, type Desk } from "../../api/client";
import { useDeskState } from "../state/state";
import { carrying } from "./carrying";
import { FrameDoing } from "./frame";

const later = () => new Promise<void>((resolve) => setTimeout(resolve, 5));

describe("carrying over", () => {
  const asked: string[] = [];
  beforeEach(() => {
    asked.length = 0;
    vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => undefined });
    vi.spyOn(api, "POST").mockImplementation((async (path: string) => {
      asked.push(path);
      return { data: [], response: new Response() };
    }) as unknown as typeof api.POST);
    useDeskState.getState().set({ problem: null });
  });
  afterEach(() => {
    vi.unstubAllGlobals();
    vi.restoreAllMocks();
  });

  it("waits for the stroke that is being saved: it belongs to what is carried", async () => {
    const doing = new FrameDoing(3, new QueryClient());
    const stroke = doing.inTurn(async () => {
      await later();
      asked.push("stroke");
      return { news: 2, finds: "", revision: 2, sweeps: [] } as unknown as Desk;
    });
    await Promise.all([stroke, carrying(doing).carry(["a"], [])]);
    expect(asked).toEqual(["stroke", "/api/frames/{frame_id}/carry"]);
  });
});
