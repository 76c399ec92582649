import { beforeEach, describe, expect, it, vi } from "vitest";

const store = new Map<string, string>();
vi.stubGlobal("localStorage", {
  getItem: (name: string) => store.get(name) ?? null,
  setItem: (name: string, value: string) => store.set(name, value),
});

describe("the state of a window", () => {
  beforeEach(() => {
    store.clear();
    vi.resetModules();
  });

  it("remembers from one visit to the next what is a matter of taste, and nothing else", async () => {
    const first = (await import("./state")).useDeskState.getState();
    first.set({ surround: "dark", fillAtOnce: true, delivery: 1200, tool: "box", problem: "no" });
    vi.resetModules();
    const second = (await import("./state")).useDeskState.getState();
    expect([second.surround, second.fillAtOnce, second.delivery]).toEqual(["dark", true, 1200]);
    expect([second.tool, second.problem]).toEqual(["brush", null]);
  });

  it("begins anew where what was remembered cannot be read", async () => {
    store.set("desk.surround", "{not json");
    store.set("desk.delivery", "null");
    const { surround, delivery } = (await import("./state")).useDeskState.getState();
    expect([surround, delivery]).toEqual(["grey", 2048]);
  });

  it("puts away all that belonged to the sweep before when another one is chosen", async () => {
    const { useDeskState } = await import("./state");
    useDeskState.getState().set({
      selected: "a",
      also: ["b"],
      viewed: 4,
      snag: 2,
      compare: "split",
      against: 4,
      mixing: true,
      alone: true,
      grounding: true,
      size: 91,
    });
    useDeskState.getState().select("b");
    const now = useDeskState.getState();
    expect(now).toMatchObject({ selected: "b", also: [], viewed: null, snag: null, compare: "off" });
    expect(now).toMatchObject({ against: 0, mixing: false, alone: false, grounding: false, offer: null });
    expect(now.size, "the brush stays as it is").toBe(91);
  });
});
