import { QueryClient } from "@tanstack/react-query";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { api, type Desk } from "../../api/client";
import { GUARD, Masks } from "./masks";

class FakePath {
  moves: number[][] = [];
  moveTo(x: number, y: number) {
    this.moves.push([x, y]);
  }
  lineTo(x: number, y: number) {
    this.moves.push([x, y]);
  }
  closePath() {}
}

const ring = (left: number) => [left, 1, left + 10, 1, left + 10, 8];
let asked: string[] = [];

beforeEach(() => {
  asked = [];
  vi.stubGlobal("Path2D", FakePath);
  vi.spyOn(api, "GET").mockImplementation((async (address: string, how: unknown) => {
    const query = JSON.stringify(how);
    asked.push(address);
    const left = address.includes("guard") ? 50 : query.includes('"margin":7') ? 3 : 10;
    return { data: { rings: [ring(left)] }, response: new Response() };
  }) as unknown as typeof api.GET);
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

const desk = (mask: string, guard: string | null = null, revision = 4) =>
  ({ revision, guard, sweeps: [{ id: "a", mask, takes: [] }] }) as unknown as Desk;

describe("the masks that are drawn", () => {
  it("are fetched once for every mask, and the last one stays until the next is there", async () => {
    const masks = new Masks(1, new QueryClient());
    expect(masks.of("a")).toBeUndefined();
    await masks.ensure(desk("one"));
    expect(masks.of("a")?.box).toEqual({ x: 9.5, y: 0.5, width: 11, height: 8 });
    await masks.ensure(desk("one", null, 5));
    expect(asked).toHaveLength(1);
    const next = masks.ensure(desk("two", null, 6));
    expect(masks.of("a")).toBeDefined();
    await next;
    expect(asked).toHaveLength(2);
    await masks.ensure(desk("one", null, 7));
    expect(asked).toHaveLength(2);
  });
  it("hold the guard while there is one", async () => {
    const masks = new Masks(1, new QueryClient());
    await masks.ensure(desk("one", "g"));
    expect(masks.of(GUARD)?.box.x).toBe(49.5);
    await masks.ensure(desk("one", null));
    expect(masks.of(GUARD)).toBeUndefined();
  });
  it("show another fit while it is tried, and tell the screen", async () => {
    const masks = new Masks(1, new QueryClient());
    masks.onChange = vi.fn();
    await masks.ensure(desk("one"));
    const fit = { margin: 7, feather: 0, holes: false, crumbs: 0 };
    expect(await masks.tryFit("a", 4, fit)).toBe(true);
    expect(masks.of("a")?.box.x).toBe(2.5);
    await masks.tryFit("a", 4, null);
    expect(masks.of("a")?.box.x).toBe(9.5);
    expect(masks.onChange).toHaveBeenCalledTimes(2);
  });
});
