import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Desk, Drawable, Scouts, Sister, Sweep } from "../../../api/client";
import { useDeskState } from "../../state/state";
import type { Actions } from "../actions";
import { type Command, shownKey } from "./command";
import { ALL, can, meant, now, STEPS } from "./table";

const done: string[] = [];
/** Actions that only say that they were asked for. */
const actions = new Proxy({}, { get: (_, name) => () => done.push(String(name)) }) as unknown as Actions;
const marked = {
  id: "a",
  shapes: 1,
  state: "marked",
  takes: [],
  snags: [],
  shown: true,
  box: { x: 0, y: 0, width: 40, height: 40 },
} as unknown as Sweep;
const filled = { ...marked, state: "choose", takes: [{ id: 3 }], best: 3, pick: null } as unknown as Sweep;
const series = [
  { id: 1, doubtful: [], marked: ["a"], landed: [] },
  { id: 2, doubtful: ["b"], marked: ["b"], landed: [{ sweep: "a", made: "b" }] },
] as unknown as Sister[];
const gone: [number | string, string?][] = [];
const room = (sweep?: Sweep, scouts?: Scouts) => ({
  desk: {
    sweeps: sweep ? [sweep] : [],
    undo: null,
    redo: null,
    frame: { id: 1, width: 100 },
    neighbours: [{ id: 1 }, { id: 2 }],
  } as unknown as Desk,
  scouts,
  series,
  actions,
  viewer: null,
  go: (frame: number, chosen?: string) => gone.push([frame, chosen]),
  open: (address: string) => gone.push([address]),
});
const press = (key: string, sweep?: Sweep, scouts?: Scouts) => {
  const at = now(room(sweep, scouts));
  meant(key, at)?.does?.(at);
  return done.splice(0);
};

describe("the table of commands", () => {
  beforeEach(() => {
    vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => undefined });
    useDeskState.getState().select("a");
    useDeskState.getState().set({ sheet: "job", find: null, tool: "brush", offer: null, pricing: [] });
  });

  it("fills what is marked, and nothing that is empty, being filled or being priced", () => {
    expect(press("f", marked)).toEqual(["fill"]);
    expect(press("f", { ...marked, shapes: 0 })).toEqual([]);
    expect(press("f", { ...marked, state: "filling" })).toEqual([]);
    expect(press("f")).toEqual([]);
    useDeskState.getState().set({ pricing: [marked.id] });
    expect(press("f", marked)).toEqual([]);
    expect(press("q", marked)).toEqual([]);
    useDeskState.getState().set({ pricing: ["another"] });
    expect(press("f", marked)).toEqual(["fill"]);
  });

  it("fills a mark that was just begun, not what was chosen before", () => {
    const { mark, set } = useDeskState.getState();
    const shape = { kind: "stroke", points: [[1, 1]], size: 8, erase: false } as unknown as Drawable;
    set({ pending: [{ key: 1, sweep: null, mark, shape }] });
    expect(press("f", marked)).toEqual(["fillBegun"]);
    expect(press("q")).toEqual(["fillBegun"]);
    set({ pending: [{ key: 1, sweep: null, mark: mark - 1, shape }] });
    expect(press("f")).toEqual([]);
    set({ pending: [] });
  });

  it("fills in stages only what is long", () => {
    expect(press("g", marked)).toEqual([]);
    expect(press("g", { ...marked, box: { x: 0, y: 0, width: 900, height: 9 } })).toEqual(["fill"]);
  });

  it("gives a key that means two things to the one that can be done", () => {
    expect(press("x", filled)).toEqual([]);
    expect(useDeskState.getState().mixing).toBe(true);
    useDeskState.getState().set({ sheet: "finds", find: 5 });
    expect(press("x", filled)).toEqual(["changeFind"]);
    expect(meant("c", now(room(filled)))?.label).toBe("Cling");
    useDeskState.getState().set({ tool: "clone" });
    expect(meant("c", now(room(filled)))?.label).toBe("Set source");
  });

  it("says yes to an offer before it picks a take", () => {
    expect(press("Enter", filled)).toEqual(["pick"]);
    useDeskState.getState().set({ offer: { sweep: "a", how: {}, quote: { problem: null } as never } });
    expect(press("Enter", filled)).toEqual(["agree"]);
    useDeskState.getState().set({ offer: { sweep: "a", how: {}, quote: { problem: "no" } as never } });
    expect(press("Enter", filled)).toEqual([]);
    press("Escape", filled);
    expect(useDeskState.getState().offer).toBeNull();
  });

  it("keeps dust everywhere from the key as from the button", () => {
    const find = { id: 1, kind: "specks", frames: 3, goes: true };
    const scouts = { scouts: [], finds: [find] } as unknown as Scouts;
    expect(press("k", filled, scouts)).toEqual([]);
    useDeskState.getState().set({ sheet: "finds" });
    expect(press("k", filled, scouts)).toEqual(["keep"]);
    expect(press("k", filled, { ...scouts, finds: [] })).toEqual([]);
  });

  it("takes away while the key is held, and switches when it is tapped", () => {
    const at = () => now(room(marked));
    const command = meant("t", at()) as Command;
    command.holds?.starts(at());
    expect(command.on?.(at())).toBe(true);
    command.holds?.ends(at(), 900);
    expect(command.on?.(at())).toBe(false);
    command.holds?.starts(at());
    command.holds?.ends(at(), 80);
    expect(command.on?.(at())).toBe(true);
    useDeskState.getState().set({ erase: false });
  });

  it("carries over from the frame of the strip alone, and goes from doubtful one to doubtful one", () => {
    const { set, select } = useDeskState.getState();
    expect(meant("ctrl Enter", now(room(marked)))).toBeUndefined();
    press("F8", marked);
    expect(useDeskState.getState().strip).toBe(1);
    expect(press("ctrl Enter", marked)).toEqual(["carry"]);
    expect(press("ctrl shift Enter", marked)).toEqual(["carry"]);
    expect(press("F10", marked)).toEqual(["fillSeries"]);
    press("/", marked);
    expect(gone.splice(0)).toEqual([[2, "b"]]);
    const carried = { frame: 2, name: "two", confidence: 0.3, doubtful: true };
    select("a");
    expect(press("Enter", { ...marked, carried })).toEqual(["settleSweep"]);
    expect(gone.splice(0)).toEqual([[2, "b"]]);
    press("PageDown", marked);
    expect(gone.splice(0)).toEqual([[2, undefined]]);
    expect(meant("PageUp", now(room(marked)))).toBeUndefined();
    set({ strip: null });
  });

  it("has every command on the sheet of keys, each key but once at a time", () => {
    expect(STEPS.flatMap(([, commands]) => commands)).toHaveLength(ALL.length);
    for (const sweep of [undefined, marked, filled]) {
      const at = now(room(sweep));
      const keys = ALL.filter(([, each]) => each.key && can(each, at)).map(([, each]) => each.key);
      expect(keys).toEqual([...new Set(keys)]);
    }
    expect(shownKey({ label: "", says: "", key: " ", holds: {} as never })).toBe("Space held");
    expect(shownKey({ label: "", says: "", key: "h" })).toBe("H");
  });
});
