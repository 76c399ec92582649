import { useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import {
  api,
  ask,
  type Box,
  type Desk,
  type Drawable,
  type Fill,
  type Fit,
  type Grain,
  type Ground,
  type Knobs,
  type Scouts,
  type SecondThoughts,
  type Snag,
  type Sweep,
  sentence,
} from "../api/client";
import { deskKey, listModels, scoutsKey } from "../api/queries";
import { GUARD, Masks } from "./canvas/masks";
import type { Laid } from "./canvas/touching";
import type { PictureViewer } from "./canvas/viewer";
import type { Kind } from "./finds";
import { standing } from "./look";
import { snagAfter } from "./snags";
import { type Offer, useDeskState } from "./state";

/** What differs from three fine takes of the whole mask at once. */
export type HowToFill = Partial<Fill>;

/** A stroke is seen first and spoken of later, ms. */
const CAUTION_AFTER = 800;
const SCOUT_ALL = { kinds: [], small: false, again: false };

/** The box round some points, whole pixels. */
function boxOf(points: [number, number][]): Box {
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  const [x, y] = [Math.round(Math.min(...xs)), Math.round(Math.min(...ys))];
  return { x, y, width: Math.round(Math.max(...xs)) - x, height: Math.round(Math.max(...ys)) - y };
}

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
    const masks = new Masks(frame);
    /** Told of each touch-up stroke as soon as there is a revision with it. */
    const strokes: { made: (revision: number) => void } = { made: () => undefined };

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

    /** The state of the desk and its masks, both here before anything drawn by hand is let go. */
    const settle = async () => {
      await refresh();
      const now = desk();
      if (now) await masks.ensure(now);
    };
    /** Shapes go to the selected mark while it has no takes, else they start a new sweep. */
    const target = (): string | null => {
      const { selected, pending } = state.getState();
      const open = desk()?.sweeps.find((s) => s.id === selected && s.takes.length === 0 && !isBusy(s));
      const waiting = pending.filter((p) => p.sweep !== GUARD);
      return open?.id ?? (waiting.length ? (waiting.at(-1)?.sweep ?? "next") : null);
    };
    /** Do something that adds to a sweep or makes a new one; which one it was. */
    const marking = async (sweep: string | null, work: (sweep: string | null) => Promise<string>) => {
      const known = sweep === "next" ? started : sweep;
      if (!known) started = null;
      const made = await work(known);
      if (!known) {
        started = made;
        state.getState().select(made);
      }
      return made;
    };
    const send = async (shape: Drawable, sweep: string | null) => {
      if (state.getState().cling) {
        const body = { shape, sweep_id: sweep };
        return (await ask(api.POST("/api/frames/{frame_id}/cling", { params: { path }, body }))).sweep_id;
      }
      if (sweep) {
        const where = { params: { path: { ...path, sweep_id: sweep } }, body: { shapes: [shape] } };
        await ask(api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/shapes", where));
        return sweep;
      }
      const body = { shapes: [shape], name: "" };
      return (await ask(api.POST("/api/frames/{frame_id}/sweeps", { params: { path }, body }))).sweep_id;
    };
    const scoutsChanged = () => queries.invalidateQueries({ queryKey: scoutsKey(frame) });
    type FindChange = {
      goes?: boolean;
      dropped?: boolean;
      also?: ("shadow" | "mirror")[];
      shapes?: Drawable[];
    };
    const changeFind = (find: number, body: FindChange) => {
      // A tick shows at once; the server's answer follows.
      queries.setQueryData<Scouts>(scoutsKey(frame), (known) => {
        const changed = known?.finds.map((each) =>
          each.id === find
            ? { ...each, goes: body.goes ?? each.goes, with_also: body.also ?? each.with_also }
            : each,
        );
        return (
          known && { ...known, finds: (changed ?? []).filter((each) => each.id !== find || !body.dropped) }
        );
      });
      return inTurn(async () => {
        const where = { params: { path: { ...path, find_id: find } }, body: { shapes: [], ...body } };
        await ask(api.PATCH("/api/frames/{frame_id}/finds/{find_id}", where));
        if (body.dropped && state.getState().find === find) state.getState().set({ find: null });
        await scoutsChanged();
      });
    };
    /** The patch that a sweep draws from, null for wherever it fits. */
    const setGround = (sweep: string, ground: Ground | null) =>
      inTurn(() =>
        ask(
          api.PUT("/api/frames/{frame_id}/sweeps/{sweep_id}/ground", {
            params: { path: { ...path, sweep_id: sweep } },
            body: { ground },
          }),
        ),
      );
    /** Show the other take where a shape covers, in a new take on top of the one that stands. */
    const mix = (sweep: Sweep, shape: Drawable) =>
      inTurn(async () => {
        const { viewed, against, set } = state.getState();
        const body = { under: standing(sweep, viewed), over: against, shapes: [{ ...shape, erase: false }] };
        const where = { params: { path: { ...path, sweep_id: sweep.id } }, body };
        const made = await ask(api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/mix", where));
        set({ viewed: made });
      });
    /** Whoever is in a box that was just drawn. */
    const pointOut = (points: [number, number][]) =>
      inTurn(async () => {
        state.getState().set({ pointing: false });
        const body = boxOf(points);
        const find = await ask(api.POST("/api/frames/{frame_id}/scouts/person", { params: { path }, body }));
        await scoutsChanged();
        state.getState().set({ find });
      });
    /** What there is to point out about a stroke, unless another one came meanwhile. */
    const caution = async (touch_id: string) => {
      const before = state.getState().laid.length;
      const where = { params: { path: { ...path, touch_id } } };
      const found = await ask(api.GET("/api/frames/{frame_id}/touches/{touch_id}/cautions", where)).catch(
        () => [],
      );
      if (state.getState().laid.length <= before)
        state.getState().set({ cautions: found.map((each) => each.text) });
    };
    const step = (which: "undo" | "redo") => {
      state.getState().set({ laid: [], cautions: [] });
      return inTurn(() => ask(api.POST(`/api/frames/{frame_id}/${which}`, { params: { path } })));
    };
    const draw = (shape: Drawable) => {
      const { sheet, find, pointing, grounding, selected } = state.getState();
      if (grounding && selected && shape.kind === "outline") {
        state.getState().set({ grounding: false });
        return setGround(selected, { box: boxOf(shape.points as [number, number][]), frame: null });
      }
      if (sheet === "finds" && pointing && shape.kind === "outline")
        return pointOut(shape.points as [number, number][]);
      if (sheet === "finds" && find !== null && !state.getState().guarding)
        return changeFind(find, { shapes: [shape] });
      const filled = desk()?.sweeps.find((s) => s.id === state.getState().selected && s.takes.length > 0);
      if (state.getState().mixing && filled) return mix(filled, shape);
      const key = ++keys;
      const { guarding, pending, set, fillAtOnce, instant } = state.getState();
      const sweep = guarding ? GUARD : target();
      if (shape.erase && !sweep) return;
      set({ pending: [...pending, { key, sweep, shape }] });
      return inTurn(async () => {
        try {
          if (guarding) {
            const body = { shapes: [shape] };
            await ask(api.POST("/api/frames/{frame_id}/guard", { params: { path }, body }));
          } else {
            const made = await marking(sweep, (known) => send(shape, known));
            if (fillAtOnce || instant) {
              await sendFill(made, {}, 0);
            }
          }
          await settle();
        } finally {
          state.getState().set({ pending: state.getState().pending.filter((p) => p.key !== key) });
        }
      });
    };
    type Change = {
      name?: string;
      method?: Sweep["method"];
      model?: number;
      hint?: string;
      avoid?: string;
      knobs?: Knobs;
      shown?: boolean;
      fit?: Fit;
      pick?: number;
      amount?: number;
    };
    const sendChange = (sweep: string, body: Change) =>
      ask(
        api.PATCH("/api/frames/{frame_id}/sweeps/{sweep_id}", {
          params: { path: { ...path, sweep_id: sweep } },
          body,
        }),
      );
    const sendFill = (sweep: string, how: HowToFill, credits: number) =>
      ask(
        api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/fill", {
          params: { path: { ...path, sweep_id: sweep } },
          body: { takes: 3, quality: "fine", staged: false, credits, ...how },
        }),
      );
    /** What a fill would cost, if a model may be asked for it. */
    const priced = async (sweep: Sweep, how: HowToFill) => {
      const models = sweep.method === "auto" ? await queries.fetchQuery(listModels) : [];
      if (sweep.method !== "model" && !models.some((each) => each.for_auto)) return null;
      const query = { takes: how.takes ?? 3, staged: how.staged ?? false };
      const where = { params: { path: { ...path, sweep_id: sweep.id }, query } };
      return ask(api.GET("/api/frames/{frame_id}/sweeps/{sweep_id}/quote", where));
    };
    const takePieces = (grain: Grain, numbers: number[], erase: boolean) => {
      const sweep = target();
      if (erase && !sweep) return;
      return inTurn(async () => {
        await marking(sweep, async (known) => {
          const body = { numbers, sweep_id: known, erase };
          const where = { params: { path: { ...path, grain } }, body };
          return (await ask(api.POST("/api/frames/{frame_id}/pieces/{grain}", where))).sweep_id;
        });
        await settle();
      });
    };
    const change = (sweep: Sweep, body: Change) => inTurn(() => sendChange(sweep.id, body));
    return {
      masks,
      strokes,
      draw,
      takePieces,
      change,
      refit: async (sweep: Sweep, fit: Fit) => {
        await change(sweep, { fit });
        await settle();
        await masks.tryFit(sweep.id, 0, null);
      },
      changeFind,
      /** Let all scouts look that have not yet. */
      scout: async () => {
        await ask(api.POST("/api/frames/{frame_id}/scouts", { params: { path }, body: SCOUT_ALL })).catch(
          () => null,
        );
        await scoutsChanged();
      },
      /** Look for a reflection; the sweep that takes it off is chosen. */
      seekReflection: (sweep: string | null, anyway: boolean) =>
        inTurn(async () => {
          const body = { sweep_id: sweep, anyway };
          const answer = await ask(api.POST("/api/frames/{frame_id}/reflection", { params: { path }, body }));
          if (answer.sweep_id) {
            state.getState().set({ sheet: "job", find: null });
            state.getState().select(answer.sweep_id);
          }
          return answer;
        }),
      /** Let one scout look again. */
      look: (kind: Kind, small: boolean) =>
        inTurn(async () => {
          const body = { kinds: [kind], small, again: true };
          await ask(api.POST("/api/frames/{frame_id}/scouts", { params: { path }, body }));
          await scoutsChanged();
        }),
      /** Finds become sweeps, perhaps to be filled at once. */
      keep: (finds: number[], how: { fill?: boolean; everywhere?: boolean } = {}) =>
        inTurn(async () => {
          const body = { finds, fill: false, everywhere: false, ...how };
          const kept = await ask(api.POST("/api/frames/{frame_id}/finds/keep", { params: { path }, body }));
          await scoutsChanged();
          await settle();
          state.getState().set({ sheet: "job", find: null });
          state.getState().select(kept.sweeps[0] ?? null);
        }),
      /** Proposals taken into a mark. */
      accept: (sweep: Sweep, areas: SecondThoughts["proposals"][number]["area"][]) =>
        inTurn(async () => {
          const where = { params: { path: { ...path, sweep_id: sweep.id } }, body: { shapes: areas } };
          await ask(api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/shapes", where));
          await settle();
        }),
      split: (sweep: Sweep) =>
        inTurn(() =>
          ask(
            api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/split", {
              params: { path: { ...path, sweep_id: sweep.id } },
            }),
          ),
        ),
      join: (sweeps: Sweep[]) =>
        inTurn(async () => {
          const body = { sweeps: sweeps.map((sweep) => sweep.id) };
          await ask(api.POST("/api/frames/{frame_id}/sweeps/join", { params: { path }, body }));
          const first = sweeps.toSorted((a, b) => a.number - b.number)[0];
          if (first) state.getState().select(first.id);
        }),
      guardSubject: () =>
        inTurn(async () => {
          await ask(api.POST("/api/frames/{frame_id}/guard/subject", { params: { path } }));
          await settle();
        }),
      clearGuard: () => inTurn(() => ask(api.DELETE("/api/frames/{frame_id}/guard", { params: { path } }))),
      loadMask: (file: File) =>
        inTurn(async () => {
          const sent = await fetch(`/api/frames/${frame}/sweeps/from-mask`, {
            method: "POST",
            body: file,
            headers: { "Content-Type": "application/octet-stream" },
          });
          const got = await sent.json().catch(() => null);
          if (!sent.ok) throw new Error(sentence(got, sent.status));
          state.getState().select(got.sweep_id);
        }),
      /** Fill, unless that costs something: then it is offered for its price. Asking for a price holds up nothing. */
      fill: async (sweep: Sweep, how: HowToFill = {}) => {
        const { set, pricing } = state.getState();
        if (pricing) return;
        const wanted = sweep.method === "reflection" ? { takes: 1, ...how } : how;
        set({ pricing: true });
        try {
          await last;
          const quote = await priced(sweep, wanted);
          if (!quote || (!quote.problem && quote.credits === 0))
            await inTurn(() => sendFill(sweep.id, wanted, 0));
          else if (state.getState().selected === sweep.id)
            set({ offer: { sweep: sweep.id, how: wanted, quote } });
        } catch (error) {
          set({ problem: (error as Error).message });
        } finally {
          set({ pricing: false });
        }
      },
      /** Yes to an offer, for the price that was shown. */
      agree: (offer: Offer) => {
        state.getState().set({ offer: null });
        return inTurn(() => sendFill(offer.sweep, offer.how, offer.quote.credits));
      },
      /** Do without the model: by weave, or by whatever else auto finds. */
      fillHere: (sweep: Sweep, how: HowToFill = {}) => {
        state.getState().set({ offer: null });
        return inTurn(async () => {
          if (sweep.method === "model") await sendChange(sweep.id, { method: "weave" });
          await sendFill(sweep.id, how, 0);
        });
      },
      setGround,
      cancel: (run: number) =>
        inTurn(() => ask(api.POST("/api/runs/{run_id}/cancel", { params: { path: { run_id: run } } }))),
      clear: (sweep: Sweep) =>
        inTurn(() =>
          ask(
            api.DELETE("/api/frames/{frame_id}/sweeps/{sweep_id}/shapes", {
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
      goTo: (revision: number) =>
        inTurn(async () => {
          state.getState().set({ laid: [], cautions: [] });
          const where = { params: { path: { ...path, revision_id: revision } } };
          await ask(api.POST("/api/frames/{frame_id}/history/{revision_id}", where));
          await settle();
        }),
      duplicate: (sweep: Sweep) =>
        inTurn(async () => {
          const where = { params: { path: { ...path, sweep_id: sweep.id } } };
          const made = await ask(api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/duplicate", where));
          state.getState().select(made.sweep_id);
        }),
      reorder: (sweep: Sweep, by: number) =>
        inTurn(() =>
          ask(
            api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/reorder", {
              params: { path: { ...path, sweep_id: sweep.id }, query: { by } },
            }),
          ),
        ),
      /** Shift a sweep's mask; if it was filled it is filled again there. */
      move: (sweep: Sweep, across: number, down: number) =>
        inTurn(async () => {
          const where = { params: { path: { ...path, sweep_id: sweep.id } }, body: { across, down } };
          await ask(api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/move", where));
          await settle();
        }),
      /** A stroke of a touch-up brush; what it lays is drawn over the picture until that shows it. */
      touch: (laid: Laid) => {
        const { set, source, aligned } = state.getState();
        set({ laid: [...state.getState().laid, laid], cautions: [] });
        if (source && !source.to && aligned && laid.source)
          set({ source: { ...source, to: laid.source.to as [number, number] } });
        return inTurn(async () => {
          const { brush, stroke, strength } = laid;
          const body = { brush, stroke: { ...stroke, erase: false }, strength, source: laid.source };
          const swap = (others: (each: Laid) => Laid[]) =>
            state.getState().set({ laid: state.getState().laid.flatMap(others) });
          try {
            const made = await ask(
              api.POST("/api/frames/{frame_id}/touches", { params: { path }, body: body as never }),
            );
            swap((each) => [each === laid ? { ...each, revision: made.revision } : each]);
            strokes.made(made.revision);
            setTimeout(() => caution(made.touch_id), CAUTION_AFTER);
          } catch (error) {
            swap((each) => (each === laid ? [] : [each]));
            throw error;
          }
        });
      },
      showTouches: (touches: string[], shown: boolean) =>
        inTurn(() =>
          ask(
            api.POST("/api/frames/{frame_id}/touches/show", {
              params: { path, query: { shown } },
              body: { touches },
            }),
          ),
        ),
      deleteTouches: (touches: string[]) =>
        inTurn(() =>
          ask(api.POST("/api/frames/{frame_id}/touches/delete", { params: { path }, body: { touches } })),
        ),
      favour: (take: number, favourite: boolean) =>
        inTurn(() =>
          ask(
            api.POST("/api/frames/{frame_id}/takes/{take_id}/favourite", {
              params: { path: { ...path, take_id: take }, query: { favourite } },
            }),
          ),
        ),
      review: (sweep: Sweep) =>
        inTurn(() =>
          ask(
            api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/review", {
              params: { path: { ...path, sweep_id: sweep.id }, query: { again: true } },
            }),
          ),
        ),
      /** Go to the snag after the one gone to last, at 100 %. */
      nextSnag: (viewer: PictureViewer | null) => {
        const { selected, viewed, snag, set, select } = state.getState();
        const now = desk();
        const next = now && snagAfter(now, selected, viewed, snag);
        if (!next) return;
        if (next.sweep !== selected) select(next.sweep);
        set({ snag: next.snag.id });
        viewer?.visit(next.snag.box);
      },
      dismiss: (snag: Snag) =>
        inTurn(async () => {
          const where = { params: { path: { ...path, snag_id: snag.id } } };
          await ask(api.POST("/api/frames/{frame_id}/snags/{snag_id}/dismiss", where));
        }),
      /** Do what a snag proposes; what comes of it is shown. */
      mend: (snag: Snag) =>
        inTurn(async () => {
          const where = { params: { path: { ...path, snag_id: snag.id } } };
          const done = await ask(api.POST("/api/frames/{frame_id}/snags/{snag_id}/mend", where));
          await settle();
          if (done.sweep_id !== state.getState().selected) state.getState().select(done.sweep_id);
          if (done.take) state.getState().set({ viewed: done.take, snag: null });
        }),
      undo: () => step("undo"),
      redo: () => step("redo"),
      pick: async (sweep: Sweep, take: number) => {
        await change(sweep, { pick: take });
        state.getState().set({ viewed: null });
      },
    };
  }, [frame, queries]);
}

export const isBusy = (sweep: Sweep) =>
  sweep.state === "waiting" || sweep.state === "filling" || sweep.state === "stopping";
