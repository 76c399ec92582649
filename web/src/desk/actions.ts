import { useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, ask, type Desk, type Stroke, type Sweep } from "../api/client";
import { deskKey } from "../api/queries";
import { useDeskState } from "./state";

/** What differs from three fine takes of the whole mask at once. */
type HowToFill = { takes?: number; quality?: "fast" | "fine"; staged?: boolean };

export type Actions = ReturnType<typeof useActions>;
let keys = 0;

/** Everything that can be done to a frame. One thing happens after the other, in the order asked for. */
export function useActions(frame: number) {
  const queries = useQueryClient();
  return useMemo(() => {
    const path = { frame_id: frame };
    const state = useDeskState;
    let last: Promise<unknown> = Promise.resolve();
    let started: string | null = null;

    const refresh = () => queries.invalidateQueries({ queryKey: deskKey(frame) });
    const inTurn = <T>(work: () => Promise<T>): Promise<T | undefined> => {
      const next = last.then(async () => {
        try {
          const done = await work();
          await refresh();
          return done;
        } catch (error) {
          state.getState().set({ problem: (error as Error).message });
          await refresh();
          return undefined;
        }
      });
      last = next;
      return next;
    };
    const desk = () => queries.getQueryData<Desk>(deskKey(frame));

    /** Strokes go to the selected mark while it has no takes, else they start a new sweep. */
    const paint = (stroke: Stroke) => {
      const key = ++keys;
      const { selected, pending, set } = state.getState();
      const open = desk()?.sweeps.find((s) => s.id === selected && s.takes.length === 0 && !isBusy(s));
      const target = open?.id ?? (pending.length ? (pending.at(-1)?.sweep ?? "next") : null);
      if (stroke.erase && !target) return;
      set({ pending: [...pending, { key, sweep: target, stroke }] });
      return inTurn(async () => {
        try {
          const known = target === "next" ? started : target;
          if (known) {
            const where = { params: { path: { ...path, sweep_id: known } }, body: { strokes: [stroke] } };
            await ask(api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/strokes", where));
          } else {
            started = null;
            const body = { strokes: [stroke], name: "" };
            const made = await ask(api.POST("/api/frames/{frame_id}/sweeps", { params: { path }, body }));
            started = made.sweep_id;
            state.getState().select(made.sweep_id);
          }
          await refresh();
        } finally {
          state.getState().set({ pending: state.getState().pending.filter((p) => p.key !== key) });
        }
      });
    };
    const change = (
      sweep: Sweep,
      body: { name?: string; method?: Sweep["method"]; shown?: boolean; pick?: number },
    ) =>
      inTurn(() =>
        ask(
          api.PATCH("/api/frames/{frame_id}/sweeps/{sweep_id}", {
            params: { path: { ...path, sweep_id: sweep.id } },
            body,
          }),
        ),
      );
    return {
      paint,
      change,
      fill: (sweep: Sweep, how: HowToFill = {}) =>
        inTurn(() =>
          ask(
            api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/fill", {
              params: { path: { ...path, sweep_id: sweep.id } },
              body: { takes: 3, quality: "fine", staged: false, ...how },
            }),
          ),
        ),
      cancel: (run: number) =>
        inTurn(() => ask(api.POST("/api/runs/{run_id}/cancel", { params: { path: { run_id: run } } }))),
      clear: (sweep: Sweep) =>
        inTurn(() =>
          ask(
            api.DELETE("/api/frames/{frame_id}/sweeps/{sweep_id}/strokes", {
              params: { path: { ...path, sweep_id: sweep.id } },
            }),
          ),
        ),
      remove: (sweep: Sweep) =>
        inTurn(async () => {
          await ask(
            api.DELETE("/api/frames/{frame_id}/sweeps/{sweep_id}", {
              params: { path: { ...path, sweep_id: sweep.id } },
            }),
          );
          if (state.getState().selected === sweep.id) state.getState().select(null);
        }),
      undo: () => inTurn(() => ask(api.POST("/api/frames/{frame_id}/undo", { params: { path } }))),
      redo: () => inTurn(() => ask(api.POST("/api/frames/{frame_id}/redo", { params: { path } }))),
      pick: async (sweep: Sweep, take: number) => {
        await change(sweep, { pick: take });
        state.getState().set({ viewed: null });
      },
    };
  }, [frame, queries]);
}

export const isBusy = (sweep: Sweep) =>
  sweep.state === "waiting" || sweep.state === "filling" || sweep.state === "stopping";
