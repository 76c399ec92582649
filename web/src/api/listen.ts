import { type News, Stream } from "./stream";

/** One stream for all windows of a browser: a server answers only so many requests of one at a time. */

const LOCK = "keen-sweep news";
type Told = { news: News } | { missed: true };

/** Hear the news of the server: through a stream of this window's own, or of another one's while that is open. Returns
 * what ends it. */
export function listen(address: string, onNews: (news: News) => void, onMissed: () => void): () => void {
  // Only pages that are safe from eavesdroppers may agree on who listens: on another machine each has its own.
  if (!navigator.locks || typeof BroadcastChannel === "undefined") {
    const own = new Stream(address, { onNews, onMissed });
    return () => own.close();
  }
  const others = new BroadcastChannel(LOCK);
  others.onmessage = ({ data }: MessageEvent<Told>) => ("news" in data ? onNews(data.news) : onMissed());
  const ended = new AbortController();
  let first = true;
  const speak = () =>
    new Promise<void>((done) => {
      const tell = (told: Told) => others.postMessage(told);
      const stream = new Stream(address, {
        onNews: (news) => {
          onNews(news);
          tell({ news });
        },
        onMissed: () => {
          onMissed();
          tell({ missed: true });
        },
      });
      // Between the last speaker's end and now something may have happened.
      if (!first) onMissed();
      ended.signal.addEventListener("abort", () => {
        stream.close();
        done();
      });
    });
  navigator.locks.request(LOCK, { ifAvailable: true }, async (lock) => {
    if (lock) return speak();
    first = false;
    // Whoever is next in turn speaks once the one before has gone.
    void navigator.locks.request(LOCK, { signal: ended.signal }, speak).catch(() => undefined);
  });
  return () => {
    ended.abort();
    others.close();
  };
}
