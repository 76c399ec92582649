import { type QueryClient, type QueryKey, replaceEqualDeep, useQuery } from "@tanstack/react-query";
import { api, ask, type Desk, type Scouts, type Sister, type Standing } from "./client";

/** Ask again, since something was changed. A first answer that is still under way may not know of it, and would be waited
 * for: it is let go. */
export async function askAgain(queries: QueryClient, queryKey: QueryKey): Promise<void> {
  await queries.cancelQueries({ queryKey });
  await queries.invalidateQueries({ queryKey });
}

export const shootsKey = ["shoots"] as const;
export const scoutsKey = (frame: number) => ["scouts", frame] as const;
export const allDesks = ["desk"] as const;
export const deskKey = (frame: number) => ["desk", frame] as const;

export const seriesKey = (frame: number) => ["series", frame] as const;
export const standingsKey = (shoot: number) => ["series", "shoot", shoot] as const;
export const allSeries = ["series"] as const;

export const modelsKey = ["models"] as const;
export const wordsKey = ["words"] as const;

export const listModels = { queryKey: modelsKey, queryFn: () => ask(api.GET("/api/models")) };

export function useModels() {
  return useQuery(listModels);
}

/** Hints and avoids that were used before, the latest first. */
export function useWords() {
  return useQuery({ queryKey: wordsKey, queryFn: () => ask(api.GET("/api/models/words")) });
}

export const goneKey = ["shoots", "gone"] as const;

/** What was deleted and can be brought back. */
export function useGone() {
  return useQuery({ queryKey: goneKey, queryFn: () => ask(api.GET("/api/gone")) });
}

/** How often the shoots are read without being told of a change, ms. */
const SHOOTS_EVERY = 15_000;

export function useShoots() {
  return useQuery({
    queryKey: shootsKey,
    queryFn: () => ask(api.GET("/api/shoots")),
    refetchInterval: SHOOTS_EVERY,
  });
}

/** The folder that is watched for newer versions of a shoot's pictures; read again whenever the shoots are. */
export function useWatched(shoot: number) {
  return useQuery({
    queryKey: [...shootsKey, "watched", shoot],
    queryFn: () => ask(api.GET("/api/shoots/{shoot_id}/watched", { params: { path: { shoot_id: shoot } } })),
  });
}

/** Of two states of the desk the one that knows of more: an answer may come in after one that was read later. */
export function newer(known: Desk | undefined, told: Desk): Desk {
  // What is the same in both stays the same object: nothing is drawn, or set back, for nothing.
  return known && known.news > told.news ? known : replaceEqualDeep(known, told);
}

export const showDesk = (frame: number) => ({
  queryKey: deskKey(frame),
  queryFn: async () =>
    // The client's mapped types turn pairs into lists; the schema says pairs.
    (await ask(api.GET("/api/frames/{frame_id}", { params: { path: { frame_id: frame } } }))) as Desk,
});

export function useDesk(frame: number) {
  return useQuery({
    structuralSharing: (known, told) => newer(known as Desk | undefined, told as Desk),
    ...showDesk(frame),
  });
}

/** How far each frame of a shoot is, by its number. */
export function useStandings(shoot: number) {
  return useQuery({
    queryKey: standingsKey(shoot),
    queryFn: () =>
      ask(api.GET("/api/shoots/{shoot_id}/standings", { params: { path: { shoot_id: shoot } } })),
    select: byNumber,
  });
}
const byNumber = (standings: Standing[]) => new Map(standings.map((each) => [each.id, each]));

/** The frames of a frame's shoot, and what of it landed in each. */
export function useSeries(frame: number | null) {
  return useQuery({
    enabled: frame !== null,
    queryKey: seriesKey(frame ?? 0),
    queryFn: async () =>
      (await ask(
        api.GET("/api/frames/{frame_id}/series", { params: { path: { frame_id: frame ?? 0 } } }),
      )) as Sister[],
  });
}

export function useScouts(frame: number, enabled = true) {
  return useQuery({
    enabled,
    queryKey: scoutsKey(frame),
    queryFn: async () =>
      (await ask(
        api.GET("/api/frames/{frame_id}/scouts", { params: { path: { frame_id: frame } } }),
      )) as Scouts,
  });
}

export const lastDeliveryKey = (shoot: number) => ["last delivery", shoot] as const;

/** How a shoot was delivered last. */
export const showLastDelivery = (shoot: number) => ({
  queryKey: lastDeliveryKey(shoot),
  queryFn: async () =>
    (await ask(api.GET("/api/shoots/{shoot_id}/delivery", { params: { path: { shoot_id: shoot } } }))) ??
    null,
});
