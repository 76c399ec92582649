import { useEffect, useRef } from "react";
import { useDeskState } from "../../state/state";
import type { Command, Room } from "./command";
import { meant, now } from "./table";

/** Keys that mean another command with Shift. */
const SHIFTED = ["Enter", "a", "j", "l", "r", "u", "x"];

/** What is let go of when the window loses the keys. */
const RELEASED = {
  hand: false,
  asShot: false,
  before: false,
  flipped: false,
  instant: false,
  sizing: false,
  sourcing: false,
};

/** Does what keys mean, as the table of commands says. */
export function useKeys(open: Room | null) {
  // One listener for as long as the desk is there: a key that is held must not be forgotten when something is read anew.
  const latest = useRef(open);
  latest.current = open;
  useEffect(() => {
    const holding = new Map<string, { command: Command; since: number }>();
    const down = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const room = latest.current;
      if (!room || isTyping(target) || event.altKey) return;
      const at = now(room);
      // While a sheet lies over the desk there is only that.
      if (document.querySelector("[role=dialog]") && !(at.state.help && event.key === "?")) return;
      // Space and Enter belong to a button that has the focus, and arrows to tabs and sliders.
      const focused = target === document.activeElement ? target : null;
      if ((event.key === " " || event.key === "Enter") && focused?.closest("button, a, summary")) return;
      if (event.key.startsWith("Arrow") && focused?.closest("[role=tab], [role=slider], [role=separator]"))
        return;
      const key = nameOf(event);
      const command = meant(key, at);
      if (!command) return;
      event.preventDefault();
      if (event.repeat && !command.repeats) return;
      if (!command.holds) {
        command.does?.(at);
        return;
      }
      holding.set(key, { command, since: event.timeStamp });
      command.holds.starts(at);
    };
    const up = (event: KeyboardEvent) => {
      const key = nameOf(event).replace(/^ctrl (shift )?/, "");
      const held = holding.get(key);
      if (!held) return;
      holding.delete(key);
      if (latest.current) held.command.holds?.ends(now(latest.current), event.timeStamp - held.since);
    };
    const blur = () => {
      holding.clear();
      useDeskState.getState().set(RELEASED);
    };
    // A button that was clicked with the mouse gives its focus up: the next key is meant for the desk.
    const click = (event: MouseEvent) => {
      if (event.detail > 0) (event.target as HTMLElement).closest?.("button")?.blur();
    };
    window.addEventListener("click", click);
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    window.addEventListener("blur", blur);
    return () => {
      window.removeEventListener("click", click);
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
      window.removeEventListener("blur", blur);
    };
  }, []);
}

function nameOf(event: KeyboardEvent): string {
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  // With Shift most keys have a name of their own.
  if (!event.ctrlKey && !event.metaKey) return event.shiftKey && SHIFTED.includes(key) ? `shift ${key}` : key;
  return `ctrl ${event.shiftKey ? "shift " : ""}${key}`;
}

function isTyping(target: HTMLElement): boolean {
  return target.matches?.("input:not([type=range]):not([type=checkbox]), textarea, select") ?? false;
}
