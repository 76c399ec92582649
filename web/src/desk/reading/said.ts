import type { Sweep } from "../../api/client";
import { counted } from "../../theme/counted";

/** The state of a sweep in words. */
export function said(sweep: Sweep): string {
  const off = sweep.shown ? "" : " · off";
  if (sweep.state === "filling" && sweep.run) {
    const left = sweep.run.seconds_left;
    return `filling ${Math.round(sweep.run.progress * 100)} %${left !== null ? ` · ${Math.max(1, Math.round(left))} s left` : ""}`;
  }
  const broke = sweep.run?.state === "failed" && sweep.takes.length ? " · last fill failed" : "";
  if (sweep.state === "kept") {
    const number = sweep.takes.findIndex((take) => take.id === sweep.pick) + 1;
    return `✓ kept${number ? ` · take ${number}` : ""}${off}${broke}`;
  }
  if (sweep.state === "choose") {
    const count = sweep.takes.length;
    return `choose · ${counted(count, "take")}${off}${broke}`;
  }
  // Why is said beside the takes, where there is room for it.
  if (sweep.state === "failed") return "fill failed";
  return `${sweep.state}${off}`;
}
