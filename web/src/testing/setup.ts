import { cleanup } from "@testing-library/react";
import { afterEach, beforeEach, vi } from "vitest";
import { useDeskState } from "../desk/state/state";
import { asked } from "./shown";

const FRESH = useDeskState.getInitialState();

// Drawn by browsers alone.
vi.stubGlobal(
  "Path2D",
  class {
    moveTo() {}
    lineTo() {}
    closePath() {}
  },
);

beforeEach(() => {
  // Nobody answers but who is asked to by a test.
  vi.spyOn(globalThis, "fetch").mockImplementation(() => new Promise(() => {}));
  localStorage.clear();
  asked.length = 0;
  useDeskState.setState(FRESH, true);
});
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});
