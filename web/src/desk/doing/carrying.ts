import { api, ask, type Desk, type Sister } from "../../api/client";
import { seriesKey } from "../../api/queries";
import type { FrameDoing } from "./frame";

/** Sweeps of this frame onto its sisters, and all that is marked there filled. */
export function carrying({ frame, path, queries, state, inTurn }: FrameDoing) {
  const told = (series: Sister[]) => queries.setQueryData<Sister[]>(seriesKey(frame), series);
  const say = (problem: unknown) => state().set({ problem: (problem as Error).message });
  return {
    /** Carry sweeps over, all if none is named, to some frames, all others if none is named; wide: look near by. */
    carry: async (sweeps: string[], frames: number[], wide = false, sensor: boolean | null = null) => {
      const body = { sweeps, frames, wide, sensor };
      await ask<Sister[]>(api.POST("/api/frames/{frame_id}/carry", { params: { path }, body }))
        .then(told)
        .catch(say);
    },
    /** Fill everything that is marked in some frames of the series, in all others if none is named. */
    fillSeries: async (frames: number[]) => {
      const body = { frames, how: { takes: 3, quality: "fine" as const, staged: false, credits: 0 } };
      const answer = await ask<{ asked: number; refused: string[]; series: Sister[] }>(
        api.POST("/api/frames/{frame_id}/series/fill", { params: { path }, body }),
      ).catch(say);
      if (!answer) return;
      told(answer.series);
      if (answer.refused.length) state().set({ problem: answer.refused.join(" ") });
    },
    /** A sweep that was carried here lies well. */
    settleSweep: (sweep: string) =>
      inTurn(() => {
        const where = { params: { path: { ...path, sweep_id: sweep } } };
        return ask<Desk>(api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/settle", where));
      }),
  };
}
