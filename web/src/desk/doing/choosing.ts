import { api, ask, type Desk, type Drawable, type Knobs, type Snag, type Sweep } from "../../api/client";
import * as words from "../../words/words";
import type { PictureViewer } from "../canvas/viewer";
import { standing } from "../reading/look";
import { snagAfter } from "../reading/snags";
import type { FrameDoing } from "./frame";

export type SweepChange = {
  later?: number;
  name?: string;
  method?: Sweep["method"];
  model?: number;
  hint?: string;
  avoid?: string;
  knobs?: Knobs;
  shown?: boolean;
  pick?: number | null;
  amount?: number;
};

/** Takes compared, mixed and picked, sweeps arranged, the second look. */
type Mended = { sweep_id: string; take: number | null; desk: Desk };

export function choosing({ path, state, desk, inTurn, take, settle }: FrameDoing) {
  const of = (sweep: Sweep) => ({ params: { path: { ...path, sweep_id: sweep.id } } });
  const change = (sweep: Sweep, body: SweepChange) =>
    inTurn(() => ask<Desk>(api.PATCH("/api/frames/{frame_id}/sweeps/{sweep_id}", { ...of(sweep), body })));
  const shown = async (mended: Mended) => {
    const done = await settle(mended);
    if (done.sweep_id !== state().selected) state().select(done.sweep_id);
    if (done.take) state().set({ viewed: done.take, snag: null });
    return done;
  };
  const dismiss = (snags: Snag[], dismissed = true) =>
    inTurn(async () => {
      let answer: Desk | undefined;
      for (const snag of snags) {
        const where = { params: { path: { ...path, snag_id: snag.id } }, body: { dismissed } };
        answer = await ask<Desk>(api.PATCH("/api/frames/{frame_id}/snags/{snag_id}", where));
      }

      const back = () => void dismiss(snags, false);
      state().set({ taken: dismissed ? { says: words.doing.dismissed(snags.length), back } : null });
      return answer;
    });
  return {
    change,
    pick: async (sweep: Sweep, take: number) => {
      await change(sweep, { pick: take || null });
      state().set({ viewed: null });
    },
    favour: (take_id: number, favourite: boolean) =>
      inTurn(() =>
        ask<Desk>(
          api.PATCH("/api/frames/{frame_id}/takes/{take_id}", {
            params: { path: { ...path, take_id } },
            body: { favourite },
          }),
        ),
      ),
    /** Show the other take where a shape covers, in a new take on top of the one that stands. */
    mix: (sweep: Sweep, shape: Drawable) =>
      inTurn(async () => {
        const { viewed, against, set } = state();
        const body = { under: standing(sweep, viewed), over: against, shapes: [{ ...shape, erase: false }] };
        const made = await ask<{ take: number; desk: Desk }>(
          api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/mix", { ...of(sweep), body }),
        );
        take(made);
        set({ viewed: made.take });
        return made;
      }),
    duplicate: (sweep: Sweep) =>
      inTurn(async () => {
        const made = await ask<{ sweep_id: string; desk: Desk }>(
          api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/duplicate", of(sweep)),
        );
        take(made);
        state().select(made.sweep_id);
        return made;
      }),
    reorder: (sweep: Sweep, later: number) => change(sweep, { later }),
    remove: (sweep: Sweep) =>
      inTurn(async () => {
        const answer = await ask<Desk>(api.DELETE("/api/frames/{frame_id}/sweeps/{sweep_id}", of(sweep)));
        if (state().selected === sweep.id) state().select(null);
        state().set({ taken: { says: words.doing.sweepDeleted(sweep.name) } });
        return answer;
      }),
    review: (sweep: Sweep) =>
      inTurn(() =>
        ask<{ desk: Desk }>(
          api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/review", {
            params: { ...of(sweep).params, query: { again: true } },
          }),
        ),
      ),
    /** Go to the snag after the one gone to last, at 100 %. */
    nextSnag: (viewer: PictureViewer | null) => {
      const { selected, viewed, snag, set, select } = state();
      const now = desk();
      const next = now && snagAfter(now, selected, viewed, snag);
      if (!next) return;
      if (next.sweep !== selected) select(next.sweep);
      set({ snag: next.snag.id });
      viewer?.visit(next.snag.box);
    },
    /** Snags are fine, or listed again after all. */
    dismiss,
    /** Do what all snags of a take propose; what comes of it is shown. */
    mendAll: (take_id: number) =>
      inTurn(async () =>
        shown(
          await ask<Mended>(
            api.POST("/api/frames/{frame_id}/takes/{take_id}/mend", {
              params: { path: { ...path, take_id } },
            }),
          ),
        ),
      ),
    /** Do what a snag proposes; what comes of it is shown. */
    mend: (snag: Snag) =>
      inTurn(async () => {
        const where = { params: { path: { ...path, snag_id: snag.id } } };
        return shown(await ask<Mended>(api.POST("/api/frames/{frame_id}/snags/{snag_id}/mend", where)));
      }),
  };
}
