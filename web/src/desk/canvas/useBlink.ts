import { useEffect } from "react";
import { useDeskState } from "../state/state";

/** How long each of two takes that blink is seen, ms. */
const BLINK = 600;

/** Two takes, one after the other, while they are compared so. */
export function useBlink(on: boolean) {
  useEffect(() => {
    if (!on) return;
    const blink = setInterval(() => {
      const { blinked, set } = useDeskState.getState();
      set({ blinked: !blinked });
    }, BLINK);
    return () => clearInterval(blink);
  }, [on]);
}
