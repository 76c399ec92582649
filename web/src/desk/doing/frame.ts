import type { QueryClient } from "@tanstack/react-query";
import type { Desk, Scouts } from "../../api/client";
import { deskKey, newer, scoutsKey } from "../../api/queries";
import { Masks } from "../canvas/masks";
import { useDeskState } from "../state/state";

type Answer = Desk | { desk: Desk } | { scouts: Scouts } | Scouts | undefined | null;

/** What is done to one frame: edits happen in the order asked for, and each answers with what is there then. */
export class FrameDoing {
  readonly path: { frame_id: number };
  readonly masks: Masks;
  readonly state = useDeskState.getState;
  /** The sweeps that marks became, for what was asked of them before they had numbers. */
  readonly started = new Map<number, string>();
  /** Told of each touch-up stroke as soon as there is a revision with it. */
  strokeMade: (revision: number) => void = () => undefined;

  constructor(
    readonly frame: number,
    readonly queries: QueryClient,
  ) {
    this.path = { frame_id: frame };
    this.masks = new Masks(frame, queries);
  }

  /** The desk as it is known here. */
  desk = (): Desk | undefined => this.queries.getQueryData<Desk>(deskKey(this.frame));

  /** Do something after all that was asked for before. What goes wrong is said, and the desk read anew. */
  inTurn = <T extends Answer>(work: () => Promise<T>): Promise<T | undefined> => {
    const turn = this.queries.getMutationCache().build<T, Error, void, unknown>(this.queries, {
      scope: { id: `frame ${this.frame}` },
      mutationFn: work,
      // What it answered is shown; nobody asks for it again.
      gcTime: 0,
      onSuccess: (answer) => this.take(answer),
      onError: (error) => {
        this.state().set({ problem: error.message });
        return this.refresh();
      },
    });
    return turn.execute().catch(() => undefined);
  };

  /** Show the desk that an edit answered with, or the finds. */
  take = (answer: Answer): void => {
    if (!answer) return;
    if ("scouts" in answer) {
      const scouts = "finds" in answer ? answer : answer.scouts;
      this.queries.setQueryData<Scouts>(scoutsKey(this.frame), scouts);
      return;
    }
    const desk = "desk" in answer ? answer.desk : answer;
    const known = this.desk();
    this.masks.keep(desk);
    this.queries.setQueryData<Desk>(deskKey(this.frame), newer(known, desk));
    // Nobody waits for that.
    if (known?.finds !== desk.finds) void this.findsChanged();
  };

  refresh = () => this.queries.invalidateQueries({ queryKey: deskKey(this.frame) });
  findsChanged = () => this.queries.invalidateQueries({ queryKey: scoutsKey(this.frame) });

  /** Take an answer, and wait until its masks are here: what was drawn by hand is let go only then. */
  settle = async <T extends { desk: Desk } | Desk>(answer: T): Promise<T> => {
    this.take(answer);
    const now = this.desk();
    if (now) await this.masks.ensure(now);
    return answer;
  };
}
