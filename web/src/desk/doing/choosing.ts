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

type Mended = { sweep_id: string; take: number | null; desk: Desk };

/** Takes compared, mixed and picked, sweeps arranged, the second look. */
export function choosing(doing: FrameDoing) {
  return { ...arranging(doing), ...picking(doing), ...secondLook(doing) };
}

/** A sweep in the addresses of the server. */
const at = ({ path }: FrameDoing, sweep: Sweep) => ({ params: { path: { ...path, sweep_id: sweep.id } } });

function changing(doing: FrameDoing) {
  return (sweep: Sweep, body: SweepChange) =>
    doing.inTurn(() =>
      ask<Desk>(api.PATCH("/api/frames/{frame_id}/sweeps/{sweep_id}", { ...at(doing, sweep), body })),
    );
}

function arranging(doing: FrameDoing) {
  const { state, inTurn, take } = doing;
  const change = changing(doing);
  return {
    change,
    duplicate: (sweep: Sweep) =>
      inTurn(async () => {
        const made = await ask<{ sweep_id: string; desk: Desk }>(
          api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/duplicate", at(doing, sweep)),
        );
        take(made);
        state().select(made.sweep_id);
        return made;
      }),
    reorder: (sweep: Sweep, later: number) => change(sweep, { later }),
    remove: (sweep: Sweep) =>
      inTurn(async () => {
        const answer = await ask<Desk>(
          api.DELETE("/api/frames/{frame_id}/sweeps/{sweep_id}", at(doing, sweep)),
        );
        if (state().selected === sweep.id) state().select(null);
        state().set({ taken: { says: words.doing.sweepDeleted(sweep.name) } });
        return answer;
      }),
  };
}

function picking(doing: FrameDoing) {
  const { path, state, inTurn, take } = doing;
  const change = changing(doing);
  return {
    pick: async (sweep: Sweep, take: number) => {
      await change(sweep, { pick: take || null });
      state().set({ viewed: null });
    },
    /** Pick every take that stands provisionally. */
    acceptAll: () => inTurn(() => ask<Desk>(api.POST("/api/frames/{frame_id}/accept", { params: { path } }))),
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
          api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/mix", { ...at(doing, sweep), body }),
        );
        take(made);
        set({ viewed: made.take });
        return made;
      }),
  };
}

function secondLook(doing: FrameDoing) {
  const { state, desk, inTurn } = doing;
  return {
    review: (sweep: Sweep) =>
      inTurn(() =>
        ask<{ desk: Desk }>(
          api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/review", {
            params: { ...at(doing, sweep).params, query: { again: true } },
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
      viewer?.camera.visit(next.snag.box);
    },
    /** Snags are fine, or listed again after all. */
    dismiss: dismissing(doing),
    ...mending(doing),
  };
}

function dismissing({ path, state, inTurn }: FrameDoing) {
  const dismiss = (snags: Snag[], dismissed = true): Promise<Desk | undefined> =>
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
  return dismiss;
}

/** What is mended is shown. */
function mending({ path, state, inTurn, settle }: FrameDoing) {
  const shown = async (mended: Mended) => {
    const done = await settle(mended);
    if (done.sweep_id !== state().selected) state().select(done.sweep_id);
    if (done.take) state().set({ viewed: done.take, snag: null });
    return done;
  };
  return {
    /** Do what all snags of a take propose. */
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
    /** Do what a snag proposes. */
    mend: (snag: Snag) =>
      inTurn(async () => {
        const where = { params: { path: { ...path, snag_id: snag.id } } };
        return shown(await ask<Mended>(api.POST("/api/frames/{frame_id}/snags/{snag_id}/mend", where)));
      }),
  };
}
