/** A stream of news from the server that comes back whatever happened to it. */

/** How long is waited before a stream that was refused is asked for again, ms: longer each time, up to the last. */
const PAUSES = [1_000, 2_000, 5_000, 15_000];
/** How often what is shown is fetched anew while there is no stream, ms. */
const POLL = 5_000;

export type News = { data: string; lastEventId: string };
type Heard = {
  onNews: (news: News) => void;
  /** Something may have been missed: whatever is shown is to be fetched again. */
  onMissed: () => void;
};

/** Listens until it is closed. A browser takes up a stream that breaks off, and hears what it missed; one that was refused
 * for good it gives up: then it is asked for again, and what is shown is fetched now and then meanwhile. */
export class Stream {
  private source: EventSource | null = null;
  private waiting = 0;
  private polling = 0;
  private refused = 0;

  constructor(
    private address: string,
    private heard: Heard,
  ) {
    this.open();
  }

  close() {
    clearTimeout(this.waiting);
    clearInterval(this.polling);
    this.source?.close();
    this.source = null;
  }

  private open() {
    const source = new EventSource(this.address);
    this.source = source;
    source.onopen = () => {
      if (this.refused) this.heard.onMissed();
      this.refused = 0;
      clearInterval(this.polling);
      this.polling = 0;
    };
    source.onmessage = ({ data, lastEventId }) => this.heard.onNews({ data, lastEventId });
    source.onerror = () => {
      if (source.readyState !== EventSource.CLOSED || source !== this.source) return;
      const pause = PAUSES[Math.min(this.refused, PAUSES.length - 1)];
      this.refused++;
      this.waiting = window.setTimeout(() => this.open(), pause);
      this.polling ||= window.setInterval(() => this.heard.onMissed(), POLL);
    };
  }
}
