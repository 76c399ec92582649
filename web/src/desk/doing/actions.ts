import { useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import type { Drawable } from "../../api/client";
import { boxOf } from "../reading/patch";
import { carrying } from "./carrying";
import { choosing } from "./choosing";
import { delivering } from "./delivering";
import { filling } from "./filling";
import { finding } from "./finding";
import { FrameDoing } from "./frame";
import { history } from "./history";
import { marking } from "./marking";
import { touching } from "./touching";
import { versions } from "./versions";

export type Actions = ReturnType<typeof actionsOf>;

/** Everything that can be done to a frame, by step of the journey. */
function actionsOf(doing: FrameDoing) {
  const { state, desk } = doing;
  const done = {
    ...marking(doing),
    ...finding(doing),
    ...filling(doing),
    ...choosing(doing),
    ...touching(doing),
    ...carrying(doing),
    ...delivering(doing),
    ...history(doing),
    ...versions(doing),
  };
  /** What was drawn by hand, for whatever waits for it. */
  const draw = (shape: Drawable) => {
    const {
      sheet,
      find,
      pointing,
      grounding,
      leading,
      selected,
      guarding,
      mixing,
      fillAtOnce,
      instant,
      set,
    } = state();
    const points = shape.points as [number, number][];
    if (grounding && selected && shape.kind === "outline") {
      set({ grounding: false });
      return done.setGround(selected, { box: boxOf(points), frame: null });
    }
    if (leading && selected && shape.kind === "stroke") return done.lead(selected, leading, points);
    if (sheet === "finds" && pointing && shape.kind === "outline") return done.pointOut(points);
    if (sheet === "finds" && find !== null && !guarding) return done.changeFind(find, { shapes: [shape] });
    const filled = desk()?.sweeps.find((s) => s.id === selected && s.takes.length > 0);
    if (mixing && filled) return done.mix(filled, shape);
    // The key is for whoever does not want to wait: one rough take.
    const how = instant ? ({ takes: 1, quality: "fast" } as const) : {};
    return done.mark(shape, fillAtOnce || instant ? (sweep) => done.sendFill(sweep, how, 0) : undefined);
  };
  return { ...done, draw, masks: doing.masks, doing };
}

export function useActions(frame: number): Actions {
  const queries = useQueryClient();
  return useMemo(() => actionsOf(new FrameDoing(frame, queries)), [frame, queries]);
}
