import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { api } from "../../api/client";
import { Under } from "./under";

class FakePath {
  moveTo() {}
  lineTo() {}
  closePath() {}
}
let asked: { x: number; y: number; size: number }[] = [];
let answer: () => Promise<unknown>;

beforeEach(() => {
  vi.useFakeTimers();
  asked = [];
  answer = async () => ({ data: { rings: [[1, 1, 9, 1, 9, 9]] }, response: new Response() });
  vi.stubGlobal("Path2D", FakePath);
  vi.stubGlobal("window", globalThis);
  vi.spyOn(api, "GET").mockImplementation((async (
    _: string,
    how: { params: { query: (typeof asked)[0] } },
  ) => {
    asked.push(how.params.query);
    return answer();
  }) as unknown as typeof api.GET);
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

describe("what lies under a pointer", () => {
  it("is asked for once it rests, and shown", async () => {
    const changed = vi.fn();
    const under = new Under(7, changed);
    under.rest([40, 50], 12);
    under.rest([42, 50], 12);
    expect(asked).toHaveLength(0);
    await vi.advanceTimersByTimeAsync(1_000);
    expect(asked).toEqual([{ x: 40, y: 50, size: 12 }]);
    expect(under.path?.box).toEqual({ x: 0.5, y: 0.5, width: 9, height: 9 });
    expect(changed).toHaveBeenCalled();
  });

  it("is not asked for while it moves", async () => {
    const under = new Under(7, () => undefined);
    for (let x = 0; x < 300; x += 30) {
      under.rest([x, 0], 12);
      await vi.advanceTimersByTimeAsync(100);
    }
    expect(asked).toHaveLength(0);
  });

  it("is gone when the pointer goes on, also what was asked for before", async () => {
    const under = new Under(7, () => undefined);
    let late: (value: unknown) => void = () => undefined;
    answer = () => new Promise((resolve) => (late = resolve));
    under.rest([40, 50], 12);
    await vi.advanceTimersByTimeAsync(1_000);
    under.rest([140, 50], 12);
    late({ data: { rings: [[1, 1, 9, 1, 9, 9]] }, response: new Response() });
    await vi.advanceTimersByTimeAsync(10);
    expect(under.path).toBeNull();
    under.leave();
    await vi.advanceTimersByTimeAsync(1_000);
    expect(asked).toHaveLength(1);
  });

  it("shows nothing where the server refuses", async () => {
    answer = async () => ({ error: { detail: "outside" }, response: new Response(null, { status: 422 }) });
    const under = new Under(7, () => undefined);
    under.rest([-4, 50], 12);
    await vi.advanceTimersByTimeAsync(1_000);
    expect(under.path).toBeNull();
  });
});
