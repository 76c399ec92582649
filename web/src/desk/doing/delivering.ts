import { deliverAgain } from "../../deliver/doing";
import type { FrameDoing } from "./frame";

/** The picture as a file. */
export function delivering({ frame, state, desk }: FrameDoing) {
  return {
    /** Deliver this picture as the shoot was delivered last. */
    deliverAgain: async () => {
      const shoot = desk()?.frame.shoot_id;
      if (shoot === undefined) return;
      await deliverAgain(shoot, [frame], () => undefined)
        .then((done) => state().set({ done }))
        .catch((error: Error) => state().set({ problem: error.message }));
    },
  };
}
