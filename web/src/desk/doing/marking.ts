import {
  api,
  ask,
  type Desk,
  type Drawable,
  type Fit,
  type PieceSize,
  type SecondThoughts,
  type Sweep,
  sent,
} from "../../api/client";
import * as words from "../../words/words";
import { GUARD } from "../canvas/masks";
import { isBusy } from "../reading/sweeps";
import type { FrameDoing } from "./frame";

type Marked = { sweep_id: string; desk: Desk };
type LoadedMask = Marked & { seems_flipped: boolean };
type Area = SecondThoughts["proposals"][number]["area"];

/** Marking what goes, and guarding what stays. */
export function marking(doing: FrameDoing) {
  return { ...drawing(doing), ...changingMarks(doing), ...guarding(doing) };
}

function addShapes(path: FrameDoing["path"], sweep_id: string, shapes: (Drawable | Area)[]) {
  return ask<Desk>(
    api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/shapes", {
      params: { path: { ...path, sweep_id } },
      body: { shapes },
    }),
  );
}

/** The mark at hand: which sweep shapes go to, and what becomes of one that none has yet. */
function atHand({ state, desk, take, started }: FrameDoing) {
  return {
    /** Shapes go to the selected mark while it has no takes, else they start a new sweep. */
    target: (): string | null => {
      const { selected, pending, mark } = state();
      const open = desk()?.sweeps.find((s) => s.id === selected && s.takes.length === 0 && !isBusy(s));
      const waiting = pending.filter((p) => p.sweep !== GUARD && p.mark === mark);
      return open?.id ?? (waiting.length ? (waiting.at(-1)?.sweep ?? "next") : null);
    },
    /** Do something that adds to a sweep or makes a new one of a mark. */
    marked: async (
      mark: number,
      sweep: string | null,
      work: (sweep: string | null) => Promise<Marked>,
    ): Promise<Marked> => {
      const known = sweep === "next" ? (started.get(mark) ?? null) : sweep;
      const made = await work(known);
      if (!known) {
        started.set(mark, made.sweep_id);
        take(made);
        // Unless another mark was begun meanwhile.
        if (state().mark === mark) state().select(made.sweep_id, mark);
      }
      return made;
    },
  };
}

function drawing(doing: FrameDoing) {
  const { path, state, inTurn, settle } = doing;
  const { target, marked } = atHand(doing);
  let keys = 0;
  const send = async (shape: Drawable, sweep: string | null, cling: boolean): Promise<Marked> => {
    if (cling) {
      const body = { shape, sweep_id: sweep };
      return ask<Marked>(api.POST("/api/frames/{frame_id}/cling", { params: { path }, body }));
    }
    if (sweep) return { sweep_id: sweep, desk: await addShapes(path, sweep, [shape]) };
    const body = { shapes: [shape], name: "" };
    return ask<Marked>(api.POST("/api/frames/{frame_id}/sweeps", { params: { path }, body }));
  };
  const sendToGuard = (shape: Drawable) =>
    ask<Desk>(api.POST("/api/frames/{frame_id}/guard", { params: { path }, body: { shapes: [shape] } })).then(
      settle,
    );
  return {
    /** A shape for the mark at hand, or for the guard; then: what is done with its sweep at once. */
    mark: (shape: Drawable, then?: (sweep: string) => Promise<{ desk: Desk }>) => {
      // As it was when the shape was drawn: it may be sent much later.
      const { cling, guarding, pending, mark, set } = state();
      const sweep = guarding ? GUARD : target();
      if (shape.erase && !sweep) return;
      const key = ++keys;
      set({ pending: [...pending, { key, sweep, mark, shape }] });
      return inTurn(async () => {
        try {
          if (guarding) return await sendToGuard(shape);
          const made = await marked(mark, sweep, (known) => send(shape, known, cling));
          return await settle(then ? await then(made.sweep_id) : made);
        } finally {
          state().set({ pending: state().pending.filter((p) => p.key !== key) });
        }
      });
    },
    takePieces: (size: PieceSize, numbers: number[], erase: boolean) => {
      const sweep = target();
      const { mark } = state();
      if (erase && !sweep) return;
      return inTurn(async () =>
        settle(
          await marked(mark, sweep, (known) => {
            const body = { numbers, sweep_id: known, erase };
            const where = { params: { path: { ...path, size } }, body };
            return ask<Marked>(api.POST("/api/frames/{frame_id}/pieces/{size}", where));
          }),
        ),
      );
    },
  };
}

/** Marks that are there: fitted, added to, cleared, split, joined, loaded. */
function changingMarks({ frame, path, state, inTurn, settle, take, masks }: FrameDoing) {
  const flip = (sweep_id: string) =>
    inTurn(async () => {
      const where = { params: { path: { ...path, sweep_id } } };
      return settle(await ask<Desk>(api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/flip", where)));
    });
  const of = (sweep: Sweep) => ({ params: { path: { ...path, sweep_id: sweep.id } } });
  return {
    refit: (sweep: Sweep, fit: Fit) =>
      inTurn(async () => {
        const where = { ...of(sweep), body: { fit } };
        const answer = await settle(
          await ask<Desk>(api.PATCH("/api/frames/{frame_id}/sweeps/{sweep_id}", where)),
        );
        await masks.tryFit(sweep.id, 0, null);
        return answer;
      }),
    /** Proposals taken into a mark. */
    accept: (sweep: string, areas: Area[]) => inTurn(async () => settle(await addShapes(path, sweep, areas))),
    clear: (sweep: Sweep) =>
      inTurn(async () => {
        const answer = await ask<Desk>(
          api.DELETE("/api/frames/{frame_id}/sweeps/{sweep_id}/shapes", of(sweep)),
        );
        state().set({ taken: { says: words.doing.markCleared(sweep.name) } });
        return answer;
      }),
    split: (sweep: Sweep) =>
      inTurn(() => ask<Desk>(api.POST("/api/frames/{frame_id}/sweeps/{sweep_id}/split", of(sweep)))),
    join: (sweeps: Sweep[]) =>
      inTurn(async () => {
        const body = { sweeps: sweeps.map((sweep) => sweep.id) };
        const answer = await ask<Desk>(
          api.POST("/api/frames/{frame_id}/sweeps/join", { params: { path }, body }),
        );
        const first = sweeps.toSorted((a, b) => a.number - b.number)[0];
        if (first) state().select(first.id);
        return answer;
      }),
    loadMask: (file: File) =>
      inTurn(async () => {
        const made = await sent<LoadedMask>(`/api/frames/${frame}/sweeps/from-mask`, file);
        take(made);
        state().select(made.sweep_id);
        if (made.seems_flipped) {
          const back = () => void flip(made.sweep_id);
          state().set({ taken: { says: words.doing.seemsFlipped, back, act: words.sheets.flip } });
        }
        return made;
      }),
    flip,
  };
}

function guarding({ path, state, inTurn, settle }: FrameDoing) {
  return {
    guardSubject: () =>
      inTurn(async () =>
        settle(await ask<Desk>(api.POST("/api/frames/{frame_id}/guard/subject", { params: { path } }))),
      ),
    /** Guard whoever or whatever is under a place of the picture. */
    protectUnder: ([x, y]: [number, number], size: number) =>
      inTurn(async () => {
        const body = { x, y, size };
        return settle(
          await ask<Desk>(api.POST("/api/frames/{frame_id}/guard/under", { params: { path }, body })),
        );
      }),
    clearGuard: () =>
      inTurn(async () => {
        const answer = await ask<Desk>(api.DELETE("/api/frames/{frame_id}/guard", { params: { path } }));
        state().set({ taken: { says: words.doing.guardCleared } });
        return answer;
      }),
  };
}
