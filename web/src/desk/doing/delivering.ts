import { showLastDelivery } from "../../api/queries";
import { deliver, names } from "../../deliver/doing";
import type { FrameDoing } from "./frame";

/** The picture as a file. */
export function delivering({ frame, queries, state, desk }: FrameDoing) {
  return {
    /** Deliver this picture as the shoot was delivered last; nothing is written over. */
    deliverAgain: async () => {
      const shoot = desk()?.frame.shoot_id;
      if (shoot === undefined) return;
      try {
        const last = await queries.fetchQuery({ ...showLastDelivery(shoot), staleTime: 0 });
        if (!last) throw new Error("This shoot was not delivered yet: Deliver (F6) says how and where to.");
        const wish = { frames: [frame], wanted: last.wanted, folder: last.folder };
        const there = (await names(wish)).find((each) => each.there);
        if (there)
          throw new Error(`${there.name} is there already: Deliver (F6) writes over it if you say so.`);
        state().set({ done: await deliver(wish, false, () => undefined) });
      } catch (error) {
        state().set({ problem: (error as Error).message });
      }
    },
  };
}
