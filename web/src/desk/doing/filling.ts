import {
  api,
  ask,
  type Brings,
  type Desk,
  type Ground,
  type HowToFill,
  type LeadLine,
  type Quote,
  type Sweep,
} from "../../api/client";
import { listModels } from "../../api/queries";
import { thinned } from "../reading/lines";
import { isBusy } from "../reading/sweeps";
import type { Offer } from "../state/chosen";
import type { FrameDoing } from "./frame";

/** Filling, and what it costs. */
export function filling(doing: FrameDoing) {
  const { path, state, desk, inTurn, started } = doing;
  const { sendFill, fill } = asking(doing);
  return {
    sendFill,
    fill,
    /** Fill the mark that was just begun, once its shapes are kept. */
    fillBegun: async (how: HowToFill = {}) => {
      const { mark } = state();
      await inTurn(async () => undefined);
      // Unless it could not be kept. Another may have been begun meanwhile.
      const sweep = desk()?.sweeps.find((each) => each.id === started.get(mark));
      if (sweep && sweep.shapes > 0 && !isBusy(sweep) && sweep.takes.length === 0) await fill(sweep, how);
    },
    /** Yes to an offer, for the price that was shown. */
    agree: (offer: Offer) => {
      state().set({ offer: null });
      return inTurn(() => sendFill(offer.sweep, offer.how, offer.quote.credits));
    },
    /** Do without the model: by weave, or by whatever else auto finds. */
    fillHere: (sweep: Sweep, how: HowToFill = {}) => {
      state().set({ offer: null });
      return inTurn(async () => {
        if (sweep.method === "model") {
          const where = {
            params: { path: { ...path, sweep_id: sweep.id } },
            body: { method: "weave" as const },
          };
          await ask(api.PATCH("/api/frames/{frame_id}/sweeps/{sweep_id}", where));
        }
        return sendFill(sweep.id, how, 0);
      });
    },
    cancel: (run: number) =>
      inTurn(() => ask<Desk>(api.POST("/api/runs/{run_id}/cancel", { params: { path: { run_id: run } } }))),
    ...placing(doing),
  };
}

/** Asking for fills, one price at a time; what costs something is offered first. */
function asking({ path, queries, state, inTurn }: FrameDoing) {
  const sendFill = (sweep: string, how: HowToFill, credits: number) =>
    ask<{ desk: Desk }>(
      api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/fill", {
        params: { path: { ...path, sweep_id: sweep } },
        body: { credits, ...how },
      }),
    );
  /** What a fill would cost, if a model may be asked for it. */
  const priced = async (sweep: Sweep, how: HowToFill) => {
    const models = sweep.method === "auto" ? await queries.fetchQuery(listModels) : [];
    if (sweep.method !== "model" && !models.some((each) => each.for_auto)) return null;
    const query = { takes: how.takes, staged: how.staged };
    const where = { params: { path: { ...path, sweep_id: sweep.id }, query } };
    return ask<Quote>(api.GET("/api/frames/{frame_id}/sweeps/{sweep_id}/quote", where));
  };
  /** Fill, unless that costs something: then it is offered for its price. Asking for a price holds up nothing. */
  const askFill = async (sweep: Sweep, how: HowToFill) => {
    const { set } = state();
    const wanted = sweep.method === "reflection" ? { takes: 1, ...how } : how;
    try {
      // What was asked for before belongs to what is priced.
      await inTurn(async () => undefined);
      const quote = await priced(sweep, wanted);
      if (!quote || (!quote.problem && quote.credits === 0))
        await inTurn(() => sendFill(sweep.id, wanted, 0));
      else if (state().selected === sweep.id) set({ offer: { sweep: sweep.id, how: wanted, quote } });
    } catch (error) {
      set({ problem: (error as Error).message });
    } finally {
      set({ pricing: state().pricing.filter((each) => each !== sweep.id) });
    }
  };
  let last = Promise.resolve();
  const fill = (sweep: Sweep, how: HowToFill = {}) => {
    const { set, pricing } = state();
    if (pricing.includes(sweep.id)) return last;
    set({ pricing: [...pricing, sweep.id] });
    last = last.then(() => askFill(sweep, how));
    return last;
  };
  return { sendFill, fill };
}

/** Where a sweep draws from, and where it is. */
function placing({ path, inTurn, settle, desk }: FrameDoing) {
  const setLead = (sweep: string, change: (lines: LeadLine[]) => LeadLine[]) =>
    inTurn(() => {
      const lines = desk()?.sweeps.find((each) => each.id === sweep)?.lead ?? [];
      return ask<Desk>(
        api.PUT("/api/frames/{frame_id}/sweeps/{sweep_id}/lead", {
          params: { path: { ...path, sweep_id: sweep } },
          body: { lines: change(lines) },
        }),
      );
    });
  return {
    /** One more line that leads a sweep's fill. */
    lead: (sweep: string, brings: Brings, points: [number, number][]) =>
      setLead(sweep, (lines) => [...lines, { points: thinned(points), brings }]),
    /** All its lines but the one with that number, from 0. */
    dropLead: (sweep: string, number: number) =>
      setLead(sweep, (lines) => lines.filter((_, k) => k !== number)),
    /** The patch that a sweep draws from, null for wherever it fits. */
    setGround: (sweep: string, ground: Ground | null) =>
      inTurn(() =>
        ask<Desk>(
          api.PUT("/api/frames/{frame_id}/sweeps/{sweep_id}/ground", {
            params: { path: { ...path, sweep_id: sweep } },
            body: { ground },
          }),
        ),
      ),
    /** Shift a sweep's mask; if it was filled it is filled again there. */
    move: (sweep: Sweep, across: number, down: number) =>
      inTurn(async () => {
        const where = { params: { path: { ...path, sweep_id: sweep.id } }, body: { across, down } };
        return settle(await ask<Desk>(api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/move", where)));
      }),
  };
}
