import { describe, expect, it, vi } from "vitest";
import type { Place } from "../canvas/camera";
import type { PictureViewer } from "../canvas/viewer";
import { Together } from "./together";

const view = (place: Place, fitted = false) => ({
  camera: { place: () => place, goTo: vi.fn(), visit: vi.fn(), isFitted: () => fitted },
  whenOpen: (does: () => void) => does(),
});
const as = (each: ReturnType<typeof view>) => each as unknown as PictureViewer;
const BOX = { x: 10, y: 10, width: 20, height: 20 };

describe("views that hang together", () => {
  it("begin where the desk was looked at from near, and follow whoever leads", () => {
    const [desk, one, other] = [
      view({ x: 5, y: 6, scale: 2 }),
      view({ x: 1, y: 1, scale: 3 }),
      view({ x: 0, y: 0, scale: 1 }),
    ];
    const together = new Together();
    together.start(as(desk), BOX);
    together.join(1, as(one));
    together.join(2, as(other));
    expect(one.camera.goTo).toHaveBeenCalledWith({ x: 5, y: 6, scale: 2 });
    together.lead(1);
    together.follow(1);
    expect(other.camera.goTo).toHaveBeenLastCalledWith({ x: 1, y: 1, scale: 3 });
    together.follow(2);
    expect(one.camera.goTo).toHaveBeenCalledTimes(1);
  });

  it("give the desk what was looked at from nearer than it was, and leave it alone else", () => {
    for (const [scale, moves] of [
      [3, true],
      [0.4, false],
    ] as const) {
      const [desk, one] = [view({ x: 5, y: 6, scale: 1 }, true), view({ x: 7, y: 8, scale })];
      const together = new Together();
      together.start(as(desk), BOX);
      together.join(1, as(one));
      expect(one.camera.visit).toHaveBeenCalledWith(BOX, true);
      together.follow(1);
      together.giveBack(as(desk));
      expect(desk.camera.goTo.mock.calls.length).toBe(moves ? 1 : 0);
    }
  });
});
