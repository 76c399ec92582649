import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { type Tip, watchTips } from "./watchTips";

let told: (string | null)[];
let end: () => void;
let pressed: number;

beforeEach(() => {
  vi.useFakeTimers({ toFake: ["setTimeout", "clearTimeout", "performance"] });
  document.body.innerHTML = `<button data-tip="Fill it. F"><b>Fill</b></button><i data-tip="Go back">x</i><p>-</p>`;
  told = [];
  pressed = 0;
  thing("button").addEventListener("click", () => pressed++);
  end = watchTips(document, (tip: Tip | null) => told.push(tip?.says ?? null));
});

afterEach(() => {
  end();
  vi.useRealTimers();
});

const thing = (name: string) => document.querySelector(name) as HTMLElement;
const point = (type: string, name: string, pointerType = "mouse") =>
  thing(name).dispatchEvent(new PointerEvent(type, { bubbles: true, cancelable: true, pointerType }));

describe("tips", () => {
  it("are told to a pointer that rests on a thing or a part of it, and put away when it leaves", () => {
    point("pointerover", "b");
    vi.advanceTimersByTime(300);
    expect(told).toEqual([]);
    point("pointerover", "button");
    vi.advanceTimersByTime(300);
    expect(told).toEqual(["Fill it. F"]);
    point("pointerover", "p");
    expect(told).toEqual(["Fill it. F", null]);
  });

  it("are not told to one that passes by, presses or types", () => {
    for (const end of [
      () => point("pointerover", "p"),
      () => point("pointerdown", "button"),
      () => document.body.dispatchEvent(new KeyboardEvent("keydown", { key: "f", bubbles: true })),
    ]) {
      point("pointerover", "button");
      vi.advanceTimersByTime(300);
      end();
      vi.advanceTimersByTime(3_000);
      point("pointerover", "p");
    }
    expect(told).toEqual([]);
  });

  it("are not told again of what was just pressed, until something else was pointed at", () => {
    point("pointerdown", "button");
    point("pointerover", "b");
    vi.advanceTimersByTime(2_000);
    expect(told).toEqual([]);
    point("pointerover", "p");
    point("pointerover", "b");
    vi.advanceTimersByTime(2_000);
    expect(told).toEqual(["Fill it. F"]);
  });

  it("follow at once along a row", () => {
    point("pointerover", "button");
    vi.advanceTimersByTime(500);
    point("pointerover", "i");
    vi.advanceTimersByTime(0);
    expect(told).toEqual(["Fill it. F", null, "Go back"]);
    point("pointerover", "p");
    vi.advanceTimersByTime(1_000);
    point("pointerover", "button");
    vi.advanceTimersByTime(100);
    expect(told.at(-1)).toBeNull();
  });

  it("are told to a finger that stays, which then does not press", () => {
    point("pointerdown", "button", "touch");
    vi.advanceTimersByTime(600);
    expect(told).toEqual(["Fill it. F"]);
    point("pointerup", "button", "touch");
    point("pointerout", "button", "touch");
    point("pointerleave", "button", "touch");
    // What had the focus loses it to what is touched.
    thing("p").dispatchEvent(new FocusEvent("focusout", { bubbles: true }));
    point("click", "button", "touch");
    expect(pressed).toBe(0);
    // It stays to be read until something else is touched; a short touch presses and tells nothing.
    expect(told).toEqual(["Fill it. F"]);
    point("pointerdown", "button", "touch");
    vi.advanceTimersByTime(80);
    point("pointerup", "button", "touch");
    point("click", "button", "touch");
    vi.advanceTimersByTime(3_000);
    expect(pressed).toBe(1);
    expect(told).toEqual(["Fill it. F", null]);
  });

  it("do not keep a short touch from pressing that a busy page hears of late", () => {
    const at = (type: string, timeStamp: number) => {
      const event = new PointerEvent(type, { bubbles: true, cancelable: true, pointerType: "touch" });
      Object.defineProperty(event, "timeStamp", { value: timeStamp });
      thing("button").dispatchEvent(event);
    };
    at("pointerdown", 1_000);
    vi.advanceTimersByTime(900);
    at("pointerup", 1_080);
    at("click", 1_080);
    expect(pressed).toBe(1);
    expect(told.at(-1)).toBeNull();
  });

  it("stay for a finger, whatever comes and goes under a mouse that lies beside it", () => {
    point("pointerdown", "button", "touch");
    point("pointerover", "p");
    vi.advanceTimersByTime(600);
    point("pointerover", "p");
    expect(told).toEqual(["Fill it. F"]);
    point("pointerup", "button", "touch");
    point("pointerover", "p");
    expect(told).toEqual(["Fill it. F", null]);
  });

  it("go when what they are about is scrolled, and stay when something else is", () => {
    point("pointerover", "button");
    vi.advanceTimersByTime(600);
    thing("p").dispatchEvent(new Event("scroll"));
    expect(told).toEqual(["Fill it. F"]);
    document.dispatchEvent(new Event("scroll"));
    expect(told).toEqual(["Fill it. F", null]);
  });

  it("of what is gone meanwhile are not told", () => {
    point("pointerover", "button");
    thing("button").remove();
    vi.advanceTimersByTime(1_000);
    expect(told).toEqual([]);
  });
});
