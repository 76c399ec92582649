import type { PictureViewer } from "../viewer";
import type { Spot } from "./gesture";

/** What a hand does, by whatever it is moved. */
export type Moved = {
  down: (event: PointerEvent) => void;
  move: (event: PointerEvent) => void;
  up: (event: PointerEvent) => void;
};
type Given = Moved & {
  viewer: PictureViewer;
  /** How wide the brush is on the screen, CSS pixels. */
  brush: () => number;
  /** Tell where the brush is, and whether it is down. */
  tell: (at: Spot, isDown: boolean) => void;
  leave: () => void;
};

/** No pointer of the browser's has this number. */
export const BY_KEYS = -1;
/** A step is a quarter of the brush, or so many CSS pixels if that is more; a fine one is a pixel. */
const LEAST = 4;
/** How near to the edge of the view the brush takes the picture along. */
const EDGE = 24;

const WAYS: Record<string, Spot> = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: -1 },
  ArrowDown: { x: 0, y: 1 },
};

/** The hand moved by keys, while the picture has the focus: arrows move the brush, Enter puts it down and lifts it. */
export function keyHand(canvas: HTMLCanvasElement, given: Given): () => void {
  let at: Spot | null = null;
  let isDown = false;

  const event = (type: string): PointerEvent => {
    const edge = canvas.getBoundingClientRect();
    const { x, y } = at ?? { x: 0, y: 0 };
    const where = { clientX: edge.left + x, clientY: edge.top + y };
    return new PointerEvent(type, { ...where, pointerId: BY_KEYS, button: 0, pressure: 0.5, detail: 1 });
  };
  const here = (): Spot => {
    at ??= { x: canvas.clientWidth / 2, y: canvas.clientHeight / 2 };
    return at;
  };
  const go = (way: Spot, fine: boolean) => {
    const step = fine ? 1 : Math.max(LEAST, given.brush() / 4);
    const from = here();
    at = inView(canvas, given.viewer, { x: from.x + way.x * step, y: from.y + way.y * step });
    given.move(event("pointermove"));
    given.tell(at, isDown);
  };
  const press = (key: KeyboardEvent) => {
    if (key.ctrlKey || key.metaKey || key.altKey) return;
    const way = WAYS[key.key];
    if (way) go(way, key.shiftKey);
    else if (key.key === "Enter") {
      here();
      isDown = !isDown;
      if (isDown) given.down(event("pointerdown"));
      else given.up(event("pointerup"));
      given.tell(here(), isDown);
    } else if (key.key === "Escape" && isDown) {
      isDown = false;
      given.up(event("pointercancel"));
      given.tell(here(), isDown);
    } else if (key.key === "Escape") canvas.blur();
    else return;
    key.preventDefault();
    key.stopPropagation();
  };
  const focus = () => {
    given.move(event("pointermove"));
    given.tell(here(), false);
  };
  const blur = () => {
    if (isDown) given.up(event("pointercancel"));
    isDown = false;
    given.leave();
  };
  const over = new AbortController();
  const { signal } = over;
  canvas.addEventListener("keydown", press, { signal });
  canvas.addEventListener("focus", focus, { signal });
  canvas.addEventListener("blur", blur, { signal });
  canvas.addEventListener("mousedown", notKeys, { signal });
  return () => over.abort();
}

/** A click means the place it is at, not the keys. */
function notKeys(click: MouseEvent) {
  click.preventDefault();
  (document.activeElement as HTMLElement | null)?.blur?.();
}

/** A place in the view: at its edge the picture comes along, so that a stroke is drawn where it is meant nevertheless. */
function inView(canvas: HTMLCanvasElement, viewer: PictureViewer, { x, y }: Spot): Spot {
  const inside = (value: number, most: number) => Math.min(Math.max(value, EDGE), most - EDGE);
  const [dx, dy] = [inside(x, canvas.clientWidth) - x, inside(y, canvas.clientHeight) - y];
  if (dx || dy) viewer.camera.panBy(dx, dy);
  return { x: x + dx, y: y + dy };
}
