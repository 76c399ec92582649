import { QueryClient } from "@tanstack/react-query";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Sweep } from "../../api/client";
import { useDeskState } from "../state/state";
import { filling } from "./filling";
import { FrameDoing } from "./frame";

const sent = vi.hoisted(() => [] as string[]);
vi.mock("../../api/client", () => ({
  api: {
    GET: async () => ({ problem: null, credits: 0 }),
    POST: async (_: string, { params }: { params: { path: { sweep_id: string } } }) => {
      sent.push(params.path.sweep_id);
      return {};
    },
  },
  ask: (answer: Promise<unknown>) => answer,
}));

const sweep = (id: string) =>
  ({ id, method: "model", shapes: 1, takes: [], state: "marked" }) as unknown as Sweep;

describe("asking for fills", () => {
  beforeEach(() => {
    vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => undefined });
    useDeskState.getState().set({ pricing: [], problem: null, offer: null });
    sent.length = 0;
  });

  it("fills each sweep in its turn, and none twice while it is being priced", async () => {
    const { fill } = filling(
      new FrameDoing(3, new QueryClient({ defaultOptions: { mutations: { networkMode: "always" } } })),
    );
    const asked = [fill(sweep("a")), fill(sweep("b")), fill(sweep("a"))];
    expect(useDeskState.getState().pricing).toEqual(["a", "b"]);
    await Promise.all(asked);
    expect(sent).toEqual(["a", "b"]);
    expect(useDeskState.getState().pricing).toEqual([]);
    await fill(sweep("a"));
    expect(sent).toEqual(["a", "b", "a"]);
  });
});
