import { api, ask, type Desk, type Sister } from "../../api/client";
import { allDesks, seriesKey } from "../../api/queries";
import type { FrameDoing } from "./frame";

/** Sweeps of this frame onto its sisters, and all that is marked there filled. */
export function carrying({ frame, path, queries, state, inTurn }: FrameDoing) {
  /** from: the frame whose series that is; the strip stays with it while others are looked at. */
  const told = (series: Sister[], from = frame) => {
    queries.setQueryData<Sister[]>(seriesKey(from), series);
    // What this window asked for it does not hear as news, and these are desks of other frames.
    void queries.invalidateQueries({ queryKey: allDesks });
  };
  const say = (problem: unknown) => state().set({ problem: (problem as Error).message });
  return {
    /** Carry sweeps over, all if none is named, to some frames, all others if none is named; wide: look near by; fill:
     * and fill them there, the first take picked. */
    carry: async (
      sweeps: string[],
      frames: number[],
      how: { wide?: boolean; fill?: boolean; sensor?: boolean } = {},
    ) => {
      const body = { sweeps, frames, wide: false, fill: false, sensor: null, ...how };
      // What was asked for before, a last stroke, belongs to what is carried.
      await inTurn(async () => undefined);
      await ask<Sister[]>(api.POST("/api/frames/{frame_id}/carry", { params: { path }, body }))
        .then((series) => told(series))
        .catch(say);
    },
    /** Fill everything that is marked in some frames of a frame's series, in all others than it if none is named. */
    fillSeries: async (from: number, frames: number[]) => {
      const body = { frames, how: {} };
      const answer = await ask<{ asked: number; refused: string[]; series: Sister[] }>(
        api.POST("/api/frames/{frame_id}/series/fill", { params: { path: { frame_id: from } }, body }),
      ).catch(say);
      if (!answer) return;
      told(answer.series, from);
      if (answer.refused.length) state().set({ problem: answer.refused.join(" ") });
    },
    /** What was carried over from a frame to some others is good as it is, or is not. */
    approve: async (from: number, frames: number[], good: boolean) => {
      const where = { params: { path: { frame_id: from } }, body: { frames, good } };
      await ask<Sister[]>(api.POST("/api/frames/{frame_id}/series/approve", where))
        .then((series) => told(series, from))
        .catch(say);
    },
    /** A sweep that was carried here lies well. */
    settleSweep: (sweep: string) =>
      inTurn(() => {
        const where = { params: { path: { ...path, sweep_id: sweep } } };
        return ask<Desk>(api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/settle", where));
      }),
  };
}
