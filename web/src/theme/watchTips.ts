export type Tip = { of: Element; says: string };
type Show = (tip: Tip | null) => void;

/** How long a pointer rests, the focus of keys or a finger stays before it is told, ms. */
const REST = 500;
/** So long after one tip the next one is told at once: whoever reads along a row waits once, ms. */
const ALONG = 400;

type On = <K extends keyof DocumentEventMap>(type: K, hear: (event: DocumentEventMap[K]) => void) => void;

const thingOf = (target: EventTarget | null) => (target as Element | null)?.closest?.("[data-tip]") ?? null;

/** Tells after a while, unless something else comes meanwhile. */
class Teller {
  isShown = false;
  private of: Element | null = null;
  private hidden = Number.NEGATIVE_INFINITY;
  private waiting: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly show: Show) {}

  tell(target: EventTarget | null, alongARow = false) {
    const next = thingOf(target);
    if (next === this.of) return;
    this.hide();
    this.of = next;
    if (!next) return;
    const rest = alongARow && performance.now() - this.hidden < ALONG ? 0 : REST;
    this.waiting = setTimeout(() => {
      const says = next.getAttribute("data-tip");
      if (!says || !next.isConnected) return;
      this.isShown = true;
      this.show({ of: next, says });
    }, rest);
  }

  /** Tell no more of what is pressed until something else was pointed at: whoever presses it knows. */
  hush(target: EventTarget | null) {
    this.hide();
    this.of = thingOf(target);
  }

  tells(target: EventTarget | null) {
    return this.of?.contains(target as Node) ?? false;
  }

  /** Whether what is told of, or waited for, moves when something scrolls. */
  moves(scrolled: EventTarget | null) {
    return (scrolled as Node | null)?.contains(this.of) ?? false;
  }

  hide() {
    clearTimeout(this.waiting);
    this.of = null;
    if (!this.isShown) return;
    this.isShown = false;
    this.hidden = performance.now();
    this.show(null);
  }
}

/** Tell of what has a tip when a pointer rests on it, when keys come to it, when a finger stays on it. Returns how to stop. */
export function watchTips(room: Document, show: Show): () => void {
  const teller = new Teller(show);
  const ended = new AbortController();
  const on: On = (type, hear) => room.addEventListener(type, hear, { capture: true, signal: ended.signal });
  const hide = () => teller.hide();
  // What is said may be pointed at, to be read in peace.
  const isTip = (target: EventTarget | null) => (target as Element).closest?.("[data-scope=tooltip]");
  const finger = watchFingers(on, teller);
  on("pointerover", ({ pointerType, target }) => {
    // A mouse that lies still hears of whatever comes and goes under it; while a finger points it does not.
    if (pointerType !== "touch" && !finger.isDown && !isTip(target)) teller.tell(target, true);
  });
  on("focusin", ({ target }) => {
    if ((target as Element).matches?.(":focus-visible")) teller.tell(target);
  });
  on("focusout", ({ target }) => {
    if (teller.tells(target)) hide();
  });
  // A pointer that leaves the window rests on nothing any more; a finger that is lifted is gone as well.
  on("pointerout", ({ relatedTarget, pointerType }) => {
    if (relatedTarget === null && pointerType !== "touch" && !finger.isDown) hide();
  });
  on("keydown", hide);
  // A tip goes when what it is about moves.
  on("scroll", ({ target }) => {
    if (teller.moves(target)) hide();
  });
  return () => {
    ended.abort();
    hide();
  };
}

/** What is held to be read is not pressed. How long a finger stayed is told by the events: a page that is busy hears late of
 * one that was lifted at once. */
function watchFingers(on: On, teller: Teller): { isDown: boolean } {
  const finger = { isDown: false };
  let since = 0;
  let held = false;
  on("pointerdown", ({ pointerType, target, timeStamp }) => {
    held = false;
    finger.isDown = pointerType === "touch";
    if (pointerType !== "touch") return teller.hush(target);
    teller.hide();
    since = timeStamp;
    teller.tell(target);
  });
  const lifted = ({ pointerType, timeStamp }: PointerEvent) => {
    if (pointerType !== "touch") return;
    finger.isDown = false;
    held = teller.isShown && timeStamp - since >= REST;
    if (!held) teller.hide();
  };
  on("pointerup", lifted);
  on("pointercancel", lifted);
  on("click", (event) => {
    if (!held || (event as PointerEvent).pointerType !== "touch") return;
    event.preventDefault();
    event.stopPropagation();
  });
  return finger;
}
