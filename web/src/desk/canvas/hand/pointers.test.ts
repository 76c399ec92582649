import { beforeEach, expect, test, vi } from "vitest";
import type { Drawable } from "../../../api/client";
import { useDeskState } from "../../state/state";
import { cornerKey } from "./corners";
import type { Drawing, Ground } from "./gesture";
import { pointersOf } from "./pointers";

function table() {
  const drawing: Drawing = {
    shape: null,
    laid: null,
    corners: [],
    pieces: new Set(),
    pointer: null,
    ended: null,
  };
  const drawn: Drawable[] = [];
  const taken: [number[], boolean][] = [];
  const panned: [number, number][] = [];
  const zoomed: number[] = [];
  const holds: string[] = [];
  const ground = {
    canvas: { clientWidth: 1000, style: {}, setPointerCapture: () => undefined },
    viewer: {
      camera: {
        placing: () => ({ x: 0, y: 0, scale: 1 }),
        panBy: (x: number, y: number) => panned.push([x, y]),
        zoomBy: (by: number) => zoomed.push(by),
        hold: () => holds.push("held"),
        release: () => holds.push("let go"),
      },
    },
    pieces: { at: (x: number) => Math.floor(x / 10) },
    under: { leave: vi.fn(), rest: vi.fn() },
    drawing,
    draw: (shape: Drawable) => drawn.push(shape),
    take: (pieces: number[], erase: boolean) => taken.push([pieces, erase]),
    redraw: () => undefined,
    place: (event: PointerEvent) => ({ x: event.clientX, y: event.clientY }),
    onPicture: (event: PointerEvent) => [event.clientX, event.clientY],
  } as unknown as Ground;
  const pointers = pointersOf(ground);
  const send = (type: "down" | "move" | "up", x: number, y: number, more: Partial<PointerEvent> = {}) =>
    pointers[type]({
      ...{ type: type === "up" ? "pointerup" : `pointer${type}`, clientX: x, clientY: y, pointerId: 1 },
      ...{ pointerType: "mouse", button: 0, detail: 1, pressure: 0.5 },
      ...more,
    } as PointerEvent);
  return { ground, drawing, drawn, taken, panned, zoomed, holds, send };
}

beforeEach(() => useDeskState.setState(useDeskState.getInitialState()));

test("a stroke is drawn as it is made and kept when the pointer lifts", () => {
  const { drawing, drawn, send } = table();
  send("down", 10, 10);
  send("move", 40, 10);
  expect(drawing.shape?.points).toEqual([
    [10, 10],
    [40, 10],
  ]);
  expect(drawn).toEqual([]);
  send("up", 40, 10);
  expect(drawn).toMatchObject([{ kind: "stroke", erase: false }]);
  expect(drawing.shape).toBeNull();
});

test("Shift draws straight: from the last stroke's end to a click, along a drag", () => {
  const { drawing, drawn, send } = table();
  const shift = { shiftKey: true };
  send("down", 10, 10);
  send("move", 40, 10);
  send("up", 40, 10);
  send("down", 40, 90, shift);
  send("up", 40, 90, shift);
  expect(drawn[1]?.points).toEqual([
    [40, 10],
    [40, 90],
  ]);
  send("down", 100, 100, { ...shift, pointerType: "pen", pressure: 0.3 });
  send("move", 130, 180, { ...shift, pointerType: "pen", pressure: 0.4 });
  send("move", 200, 100, { ...shift, pointerType: "pen", pressure: 0.6 });
  expect(drawing.shape).toMatchObject({
    points: [
      [100, 100],
      [200, 100],
    ],
    pressure: [0.6, 0.6],
  });
  send("up", 200, 100, { ...shift, pointerType: "pen" });
  expect(drawn).toHaveLength(3);
});

test("a straight stroke of a touch-up brush copies from where its source belongs to its start", () => {
  const { ground, drawing, send } = table();
  const touched: unknown[] = [];
  Object.assign(ground, {
    touch: (laid: unknown) => touched.push(laid),
    sourceStill: () => ({ picture: {}, at: {} }),
  });
  useDeskState.setState({ tool: "clone", source: { at: [500, 500], to: null }, aligned: false });
  send("down", 10, 10);
  send("up", 10, 10);
  send("down", 60, 10, { shiftKey: true });
  expect(drawing.laid).toMatchObject({ source: { to: [10, 10] } });
  send("move", 90, 10, { shiftKey: true });
  expect(drawing.laid).toMatchObject({ source: { to: [60, 10] } });
  send("up", 90, 10, { shiftKey: true });
  expect(touched).toHaveLength(2);
});

test("the picture is held until the last finger lifts", () => {
  const { holds, send } = table();
  const finger = (pointerId: number) => ({ pointerType: "touch", pointerId });
  send("down", 10, 10, finger(1));
  send("down", 60, 10, finger(2));
  send("up", 10, 10, finger(1));
  expect(holds).not.toContain("let go");
  send("up", 60, 10, finger(2));
  expect(holds.at(-1)).toBe("let go");
});

test("what was cut off is no mark", () => {
  const { drawing, drawn, send } = table();
  send("down", 10, 10);
  send("up", 10, 10, { type: "pointercancel" });
  expect(drawn).toEqual([]);
  expect(drawing.shape).toBeNull();
});

test("a second finger makes a pinch of it, whatever the first one began", () => {
  for (const tool of ["brush", "outline", "corners", "pieces"] as const) {
    useDeskState.setState({ tool });
    const { drawing, drawn, taken, zoomed, send } = table();
    const finger = { pointerType: "touch" };
    send("down", 100, 100, finger);
    send("down", 200, 100, { ...finger, pointerId: 2 });
    expect([drawing.shape, drawing.corners, drawing.pieces.size]).toEqual([null, [], 0]);
    send("move", 300, 100, { ...finger, pointerId: 2 });
    expect(zoomed).toEqual([2]);
    send("up", 100, 100, finger);
    send("up", 300, 100, { ...finger, pointerId: 2 });
    expect([drawn, taken]).toEqual([[], []]);
  }
});

test("the hand that rests while a pen writes draws nothing", () => {
  const { drawing, drawn, send } = table();
  send("down", 10, 10, { pointerType: "pen", pressure: 0.3 });
  send("down", 500, 500, { pointerType: "touch", pointerId: 2 });
  send("move", 20, 10, { pointerType: "pen", pressure: 0.6 });
  send("move", 510, 500, { pointerType: "touch", pointerId: 2 });
  expect(drawing.shape).toMatchObject({ pressure: [0.3, 0.6] });
  send("up", 20, 10, { pointerType: "pen" });
  expect(drawn).toHaveLength(1);
});

test("a palm that came before the pen draws nothing, and nothing is lost after it", () => {
  for (const lifted of ["pointerup", "pointercancel"] as const) {
    const { drawn, send } = table();
    const palm = { pointerType: "touch", pointerId: 2 };
    const pen = { pointerType: "pen", pointerId: 3 };
    for (let stroke = 1; stroke <= 3; stroke++) {
      send("down", 500, 500, palm);
      send("down", 10, 10, pen);
      send("move", 510, 500, palm);
      send("move", 40, 10, pen);
      send("up", 510, 500, { ...palm, type: lifted });
      send("up", 40, 10, pen);
      expect(drawn).toHaveLength(stroke);
    }
    send("down", 100, 100, { pointerType: "touch", pointerId: 4 });
    send("move", 140, 100, { pointerType: "touch", pointerId: 4 });
    send("up", 140, 100, { pointerType: "touch", pointerId: 4 });
    expect(drawn).toHaveLength(4);
  }
});

test("corners close on the first one, and are taken back one by one", () => {
  useDeskState.setState({ tool: "corners" });
  const { ground, drawing, drawn, send } = table();
  for (const [x, y] of [
    [0, 0],
    [100, 0],
    [100, 100],
    [0, 100],
  ] as const) {
    send("down", x, y);
    send("up", x, y);
  }
  expect(cornerKey(ground, "Backspace")).toBe(true);
  expect(drawing.corners).toHaveLength(3);
  send("down", 3, 3);
  expect(drawn).toMatchObject([
    {
      kind: "outline",
      points: [
        [0, 0],
        [100, 0],
        [100, 100],
      ],
    },
  ]);
  expect(cornerKey(ground, "Enter")).toBe(false);
});

test("pieces that were stroked over are taken together, away if that is held", () => {
  useDeskState.setState({ tool: "pieces", flipped: true });
  const { taken, send } = table();
  send("down", 5, 5);
  send("move", 15, 5);
  send("move", 16, 5);
  send("up", 16, 5);
  expect(taken).toEqual([[[0, 1], true]]);
});

test("the middle button takes the picture along, and the picture as shot is not drawn on", () => {
  const { panned, drawing, send } = table();
  send("down", 10, 10, { button: 1 });
  send("move", 30, 15);
  send("up", 30, 15);
  expect(panned).toEqual([[20, 5]]);
  useDeskState.setState({ asShot: true });
  send("down", 10, 10);
  expect(drawing.shape).toBeNull();
});
