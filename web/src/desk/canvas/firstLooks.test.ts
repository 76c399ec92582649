import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { api, type Desk } from "../../api/client";
import { FirstLooks } from "./firstLooks";

let asked: string[] = [];
let found: unknown;
class FakeImage {
  onload = () => undefined;
  set src(_: string) {
    queueMicrotask(() => this.onload());
  }
}

beforeEach(() => {
  asked = [];
  found = { box: { x: 3, y: 4, width: 20, height: 10 }, png: "" };
  vi.stubGlobal("Image", FakeImage);
  vi.spyOn(api, "GET").mockImplementation((async (
    _: string,
    how: { params: { path: { sweep_id: string } } },
  ) => {
    asked.push(how.params.path.sweep_id);
    return { data: found, response: new Response() };
  }) as unknown as typeof api.GET);
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

const desk = (...sweeps: { id: string; state: string; takes?: number; run?: number }[]) =>
  ({
    sweeps: sweeps.map(({ id, state, takes = 0, run = 1 }) => ({
      id,
      state,
      takes: Array.from({ length: takes }, (_, k) => ({ id: k + 1 })),
      run: { id: run },
    })),
  }) as unknown as Desk;
const settled = () => new Promise((done) => setTimeout(done, 5));

describe("a first look at a fill", () => {
  it("is asked for once when a fill is, and seen until the picture shows the first take", async () => {
    const changed = vi.fn();
    const looks = new FirstLooks(7, changed);
    looks.follow(desk({ id: "a", state: "waiting" }), true);
    looks.follow(desk({ id: "a", state: "filling" }), true);
    await settled();
    expect(asked).toEqual(["a"]);
    expect(looks.seen.map((each) => each.box.width)).toEqual([20]);
    expect(changed).toHaveBeenCalledTimes(1);
    looks.follow(desk({ id: "a", state: "filling", takes: 1 }), false);
    expect(looks.seen).toHaveLength(1);
    looks.follow(desk({ id: "a", state: "filling", takes: 1 }), true);
    expect(looks.seen).toHaveLength(0);
  });

  it("is not asked for where there are takes already, nor where nothing is filled", async () => {
    const looks = new FirstLooks(7, () => undefined);
    looks.follow(desk({ id: "a", state: "filling", takes: 2 }, { id: "b", state: "marked" }), true);
    await settled();
    expect(asked).toEqual([]);
  });

  it("goes when the fill is called off, also while it is on its way", async () => {
    const looks = new FirstLooks(7, () => undefined);
    looks.follow(desk({ id: "a", state: "waiting" }), true);
    looks.follow(desk({ id: "a", state: "marked" }), true);
    await settled();
    expect(looks.seen).toEqual([]);
  });

  it("is asked for anew with another run, and nothing is seen where there is none", async () => {
    const looks = new FirstLooks(7, () => undefined);
    looks.follow(desk({ id: "a", state: "waiting", run: 1 }), true);
    await settled();
    found = null;
    looks.follow(desk({ id: "a", state: "waiting", run: 2 }), true);
    await settled();
    expect(asked).toEqual(["a", "a"]);
    expect(looks.seen).toEqual([]);
  });
});
