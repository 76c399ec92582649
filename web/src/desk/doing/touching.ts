import { api, ask, type Desk } from "../../api/client";
import * as words from "../../words/words";
import type { Laid } from "../canvas/touching";
import type { FrameDoing } from "./frame";

/** A stroke is seen first and spoken of later, ms. */
const CAUTION_AFTER = 800;

/** Touch-up strokes. */
export function touching(doing: FrameDoing) {
  const { path, state, inTurn } = doing;
  /** What there is to point out about a stroke, unless another one came meanwhile. */
  const caution = async (touch_id: string) => {
    const before = state().laid.length;
    const where = { params: { path: { ...path, touch_id } } };
    const found = await ask(api.GET("/api/frames/{frame_id}/touches/{touch_id}/cautions", where)).catch(
      () => [],
    );
    if (state().laid.length <= before) state().set({ cautions: found.map((each) => each.text) });
  };
  return {
    /** A stroke of a touch-up brush; what it lays is drawn over the picture until that shows it. */
    touch: (laid: Laid) => {
      const { set, source, aligned } = state();
      set({ laid: [...state().laid, laid], cautions: [] });
      if (source && !source.to && aligned && laid.source)
        set({ source: { ...source, to: laid.source.to as [number, number] } });
      return inTurn(async () => {
        const { brush, stroke, strength } = laid;
        const body = { brush, stroke: { ...stroke, erase: false }, strength, source: laid.source };
        const swap = (others: (each: Laid) => Laid[]) => state().set({ laid: state().laid.flatMap(others) });
        try {
          const made = await ask<{ touch_id: string; desk: Desk }>(
            api.POST("/api/frames/{frame_id}/touches", { params: { path }, body: body as never }),
          );
          swap((each) => [each === laid ? { ...each, revision: made.desk.revision } : each]);
          doing.strokeMade(made.desk.revision);
          setTimeout(() => caution(made.touch_id), CAUTION_AFTER);
          return made;
        } catch (error) {
          swap((each) => (each === laid ? [] : [each]));
          throw error;
        }
      });
    },
    showTouches: (touches: string[], shown: boolean) =>
      inTurn(() =>
        ask<Desk>(
          api.PATCH("/api/frames/{frame_id}/touches", {
            params: { path },
            body: { touches, shown },
          }),
        ),
      ),
    deleteTouches: (touches: string[]) =>
      inTurn(async () => {
        const where = { params: { path }, body: { touches, deleted: true } };
        const answer = await ask<Desk>(api.PATCH("/api/frames/{frame_id}/touches", where));

        state().set({ taken: { says: words.doing.touchesDeleted(touches.length) } });
        return answer;
      }),
  };
}
