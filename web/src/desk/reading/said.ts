import type { Sweep } from "../../api/client";
import * as words from "../../words/words";
import { isBusy } from "./sweeps";

/** The state of a sweep in words. */
export function said(sweep: Sweep): string {
  const { run, state, takes } = sweep;
  if (state === "filling" && run) {
    const left = run.seconds_left;
    return words.reading.filling(
      Math.round(run.progress * 100),
      left === null ? null : words.units.span(left),
    );
  }
  // Why is said beside the takes, where there is room for it.
  if (state === "failed") return words.reading.fillFailed;
  const off = sweep.shown ? "" : words.reading.off;
  const broke = run?.state === "failed" && takes.length ? words.reading.broke : "";
  const notes = [off, takes.length && !isBusy(sweep) ? broke : ""];
  return [standing(sweep), ...notes].filter(Boolean).join(" · ");
}

function standing({ state, takes, standing }: Sweep): string {
  const number = takes.findIndex((take) => take.id === standing) + 1;
  if (state === "kept") return words.reading.kept(number);
  if (state === "provisional") return words.reading.provisional(number, takes.length);
  if (state === "choose") return words.reading.toChoose(takes.length);
  return words.named.sweepState[state];
}
