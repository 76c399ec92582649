import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { type Desk, type News, type Run, WINDOW } from "./client";
import { listen } from "./listen";
import { allDesks, allSeries, deskKey, modelsKey, scoutsKey, shootsKey, wordsKey } from "./queries";
import { frameAt, useReady } from "./ready";
import type { News as Heard } from "./stream";

/** The desk with the news of one run put in; undefined when it has to be fetched again. */
export function withRun(desk: Desk, run: Run): Desk | undefined {
  const sweep = desk.sweeps.find((s) => s.id === run.sweep_id);
  if (!sweep || sweep.run?.id !== run.id || sweep.run.state !== run.state) return undefined;
  return { ...desk, sweeps: desk.sweeps.map((s) => (s === sweep ? { ...s, run } : s)) };
}

/** Whether an event may change how far a frame is: how far a run is does not, its state does. */
export function changesStanding(event: News, states: Map<number, string>): boolean {
  if (event.kind === "models" || event.kind === "finds" || event.kind === "touch") return false;
  if (event.kind !== "run" || !event.run) return true;
  const same = states.get(event.run.id) === event.run.state;
  states.set(event.run.id, event.run.state);
  return !same;
}

/** Listen to what changes on the server; a broken connection mends itself, and what it may have missed is fetched. */
export function useEvents() {
  const queries = useQueryClient();
  useEffect(() => {
    const states = new Map<number, string>();
    const heard = (message: Heard) => {
      const event = JSON.parse(message.data) as News;
      const number = Number(message.lastEventId);
      // A take may have cost something.
      if (event.kind === "shoots" || event.kind === "take")
        queries.invalidateQueries({ queryKey: shootsKey });
      // A frame that came or went changes what stands beside the others.
      if (event.kind === "shoots") queries.invalidateQueries({ queryKey: allDesks });
      if (event.kind === "models") queries.invalidateQueries({ queryKey: modelsKey });
      if (event.kind === "take") queries.invalidateQueries({ queryKey: wordsKey });
      // How far the frames of a series are; nothing is asked for while no strip is shown.
      if (changesStanding(event, states)) queries.invalidateQueries({ queryKey: allSeries });
      if (event.kind === "carrying") return;
      if (
        event.frame !== null &&
        event.run?.state === "done" &&
        event.frame !== frameAt(window.location.pathname)
      )
        useReady.getState().filled(event.frame, event.run.sweep_id);
      // What was done here was answered.
      if (event.frame === null || event.window === WINDOW) return;
      if (event.kind === "finds" || event.kind === "frame") {
        queries.invalidateQueries({ queryKey: scoutsKey(event.frame) });
        if (event.kind === "finds") return;
      }
      const key = deskKey(event.frame);
      const desk = queries.getQueryData<Desk>(key);
      if (desk && number <= desk.news) return;
      const next = event.kind === "run" && event.run && desk ? withRun(desk, event.run) : undefined;
      if (next) queries.setQueryData(key, next);
      else queries.invalidateQueries({ queryKey: key });
    };
    return listen("/api/events", heard, () => void queries.invalidateQueries());
  }, [queries]);
}
