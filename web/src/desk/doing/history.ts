import { api, ask, type Desk } from "../../api/client";
import type { FrameDoing } from "./frame";

/** Back and forth through what was done. */
export function history({ path, state, inTurn, settle }: FrameDoing) {
  const go = (where: () => Promise<Desk>) => {
    state().set({ laid: [], cautions: [], taken: null });
    return inTurn(async () => settle(await where()));
  };
  return {
    undo: () => go(() => ask<Desk>(api.POST("/api/frames/{frame_id}/undo", { params: { path } }))),
    redo: () => go(() => ask<Desk>(api.POST("/api/frames/{frame_id}/redo", { params: { path } }))),
    goTo: (revision: number) =>
      go(() =>
        ask<Desk>(
          api.POST("/api/frames/{frame_id}/history/{revision_id}", {
            params: { path: { ...path, revision_id: revision } },
          }),
        ),
      ),
  };
}
