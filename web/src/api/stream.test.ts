import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { listen } from "./listen";
import { Stream } from "./stream";

class FakeSource {
  static CLOSED = 2;
  static all: FakeSource[] = [];
  readyState = 0;
  onopen: () => void = () => undefined;
  onerror: () => void = () => undefined;
  onmessage: (news: { data: string; lastEventId: string }) => void = () => undefined;
  constructor(readonly address: string) {
    FakeSource.all.push(this);
  }
  close() {
    this.readyState = FakeSource.CLOSED;
  }
  refuse() {
    this.readyState = FakeSource.CLOSED;
    this.onerror();
  }
  breakOff() {
    this.onerror();
  }
}
const latest = () => FakeSource.all.at(-1) as FakeSource;

beforeEach(() => {
  FakeSource.all = [];
  vi.useFakeTimers();
  vi.stubGlobal("EventSource", FakeSource);
  vi.stubGlobal("window", globalThis);
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe("a stream of news", () => {
  const begun = () => {
    const heard = { onNews: vi.fn(), onMissed: vi.fn() };
    return { heard, stream: new Stream("/news", heard) };
  };

  it("leaves one that breaks off to the browser", async () => {
    const { heard } = begun();
    latest().onopen();
    latest().breakOff();
    await vi.advanceTimersByTimeAsync(60_000);
    expect(FakeSource.all).toHaveLength(1);
    expect(heard.onMissed).not.toHaveBeenCalled();
  });

  it("asks again for one that was refused, has all fetched meanwhile, and once more when it is back", async () => {
    const { heard } = begun();
    latest().refuse();
    await vi.advanceTimersByTimeAsync(1_000);
    expect(FakeSource.all).toHaveLength(2);
    latest().refuse();
    await vi.advanceTimersByTimeAsync(2_000);
    expect(FakeSource.all).toHaveLength(3);
    latest().refuse();
    await vi.advanceTimersByTimeAsync(5_000);
    expect(heard.onMissed).toHaveBeenCalled();
    const polled = heard.onMissed.mock.calls.length;
    latest().onopen();
    expect(heard.onMissed).toHaveBeenCalledTimes(polled + 1);
    await vi.advanceTimersByTimeAsync(60_000);
    expect(heard.onMissed).toHaveBeenCalledTimes(polled + 1);
    latest().onmessage({ data: "{}", lastEventId: "7" });
    expect(heard.onNews).toHaveBeenCalledWith({ data: "{}", lastEventId: "7" });
  });

  it("is silent once it is closed", async () => {
    const { stream } = begun();
    latest().refuse();
    stream.close();
    await vi.advanceTimersByTimeAsync(60_000);
    expect(FakeSource.all).toHaveLength(1);
  });
});

describe("one stream for all windows", () => {
  type Work = (lock: object | null) => Promise<void>;
  /** Locks as of one name: whoever holds it, and who waits. */
  class FakeLocks {
    private held = false;
    private queue: (() => void)[] = [];
    async request(_: string, how: { ifAvailable?: boolean; signal?: AbortSignal }, work: Work) {
      if (this.held && how.ifAvailable) return work(null);
      if (this.held) await new Promise<void>((turn) => this.queue.push(turn));
      if (how.signal?.aborted) return;
      this.held = true;
      await work({});
      this.held = false;
      this.queue.shift()?.();
    }
  }
  class FakeChannel {
    static all: FakeChannel[] = [];
    onmessage: (told: { data: unknown }) => void = () => undefined;
    constructor(readonly name: string) {
      FakeChannel.all.push(this);
    }
    postMessage(data: unknown) {
      for (const other of FakeChannel.all) if (other !== this) other.onmessage({ data });
    }
    close() {
      FakeChannel.all = FakeChannel.all.filter((each) => each !== this);
    }
  }
  const windowOf = () => {
    const news = vi.fn();
    const missed = vi.fn();
    return { news, missed, end: listen("/news", news, missed) };
  };
  const settled = () => vi.advanceTimersByTimeAsync(1);

  beforeEach(() => {
    FakeChannel.all = [];
    vi.stubGlobal("BroadcastChannel", FakeChannel);
    vi.stubGlobal("navigator", { locks: new FakeLocks() });
  });

  it("is opened once, and every window hears it", async () => {
    const [one, other] = [windowOf(), windowOf()];
    await settled();
    expect(FakeSource.all).toHaveLength(1);
    latest().onmessage({ data: "{}", lastEventId: "3" });
    for (const each of [one, other]) expect(each.news).toHaveBeenCalledTimes(1);
  });

  it("goes on in another window when the one that had it is closed, which fetches what it may have missed", async () => {
    const [one, other] = [windowOf(), windowOf()];
    await settled();
    one.end();
    await settled();
    expect(FakeSource.all.map((each) => each.readyState)).toEqual([FakeSource.CLOSED, 0]);
    expect(other.missed).toHaveBeenCalledTimes(1);
    latest().onmessage({ data: "{}", lastEventId: "4" });
    expect(other.news).toHaveBeenCalledTimes(1);
    expect(one.news).not.toHaveBeenCalled();
  });

  it("is each window's own where windows cannot agree", async () => {
    vi.stubGlobal("navigator", {});
    const [one, other] = [windowOf(), windowOf()];
    expect(FakeSource.all).toHaveLength(2);
    one.end();
    other.end();
    expect(FakeSource.all.every((each) => each.readyState === FakeSource.CLOSED)).toBe(true);
  });
});
