import { api, ask, type Desk, type Drawable, type Scouts } from "../../api/client";
import { scoutsKey } from "../../api/queries";
import * as words from "../../words/words";
import type { Kind } from "../reading/finds";
import { boxOf } from "../reading/patch";
import type { FrameDoing } from "./frame";

export type FindChange = {
  goes?: boolean;
  always?: boolean;
  dropped?: boolean;
  also?: ("shadow" | "mirror")[];
  shapes?: Drawable[];
};
const SCOUT_ALL = { kinds: [], small: false, again: false };

/** Scouts and what they found. */
export function finding(doing: FrameDoing) {
  const { path, state, inTurn, settle } = doing;
  return {
    changeFind: changingFinds(doing),
    /** Finds become sweeps, perhaps to be filled at once. */
    keep: (finds: number[], how: { fill?: boolean; everywhere?: boolean; belongings?: boolean } = {}) =>
      inTurn(async () => {
        const body = { finds, fill: false, everywhere: false, belongings: false, ...how };
        const kept = await settle(
          await ask<{ sweeps: string[]; desk: Desk }>(
            api.POST("/api/frames/{frame_id}/finds/keep", { params: { path }, body }),
          ),
        );
        state().set({ sheet: "job", find: null });
        state().select(kept.sweeps[0] ?? null);
        if (how.fill) state().set({ removing: { sweeps: kept.sweeps, since: Date.now() } });
        return kept;
      }),
    /** No mask, margin or fill enters a find from now on. */
    protect: (find: number) =>
      inTurn(async () => {
        const where = { params: { path: { ...path, find_id: find } } };
        const answer = await settle(
          await ask<Desk>(api.POST("/api/frames/{frame_id}/finds/{find_id}/protect", where)),
        );
        if (state().find === find) state().set({ find: null });
        await doing.findsChanged();
        return answer;
      }),
    ...looking(doing),
  };
}

/** A find is ticked, corrected, dropped or taken up again. */
function changingFinds({ frame, path, queries, state, inTurn }: FrameDoing) {
  const ahead =
    (find: number, { goes, also, dropped }: FindChange) =>
    (known: Scouts | undefined) =>
      known && {
        ...known,
        finds: known.finds
          .filter((each) => each.id !== find || !dropped)
          .map((each) =>
            each.id === find ? { ...each, goes: goes ?? each.goes, with_also: also ?? each.with_also } : each,
          ),
      };
  const change = (find: number, body: FindChange): Promise<Scouts | undefined> => {
    // A tick shows at once; the server's answer follows.
    queries.setQueryData<Scouts>(scoutsKey(frame), ahead(find, body));
    return inTurn(async () => {
      const where = { params: { path: { ...path, find_id: find } }, body: { shapes: [], ...body } };
      const answer = await ask<Scouts>(api.PATCH("/api/frames/{frame_id}/finds/{find_id}", where));
      if (body.dropped) {
        if (state().find === find) state().set({ find: null });
        const back = () => void change(find, { dropped: false });
        state().set({ taken: { says: words.doing.findDropped, back } });
      }
      return answer;
    });
  };
  return change;
}

/** Scouts sent out. */
function looking({ path, state, inTurn, take, findsChanged }: FrameDoing) {
  return {
    /** Whoever is in a box that was just drawn. */
    pointOut: (points: [number, number][]) =>
      inTurn(async () => {
        state().set({ pointing: false });
        const body = boxOf(points);
        const where = { params: { path }, body };
        const answer = await ask<{ find: number; scouts: Scouts }>(
          api.POST("/api/frames/{frame_id}/scouts/person", where),
        );
        state().set({ find: answer.find });
        return answer;
      }),
    /** Let all scouts look that have not yet. */
    scout: async () => {
      const where = { params: { path }, body: SCOUT_ALL };
      const answer = await ask<Scouts>(api.POST("/api/frames/{frame_id}/scouts", where)).catch(() => null);
      if (answer) take(answer);
      else await findsChanged();
    },
    /** Let all scouts search the picture as it stands. */
    lookAgain: () =>
      inTurn(() =>
        ask<Scouts>(
          api.POST("/api/frames/{frame_id}/scouts", {
            params: { path },
            body: { ...SCOUT_ALL, again: true },
          }),
        ),
      ),
    /** Let one scout search the picture as it stands. */
    look: (kind: Kind, small: boolean) =>
      inTurn(() => {
        const body = { kinds: [kind], small, again: true };
        return ask<Scouts>(api.POST("/api/frames/{frame_id}/scouts", { params: { path }, body }));
      }),
    /** Look for a reflection; the sweep that takes it off is chosen. */
    seekReflection: (sweep: string | null, anyway: boolean) =>
      inTurn(async () => {
        const body = { sweep_id: sweep, anyway };
        const answer = await ask<{ text: string; sweep_id: string | null; desk: Desk }>(
          api.POST("/api/frames/{frame_id}/reflection", { params: { path }, body }),
        );
        take(answer);
        if (answer.sweep_id) {
          state().set({ sheet: "job", find: null });
          state().select(answer.sweep_id);
        }
        return answer;
      }),
  };
}
