import { useEffect } from "react";
import type { Desk } from "../api/client";
import * as words from "../words/words";
import { isBusy } from "./reading/sweeps";

/** The name of the picture as the window's title; what takes long is told there too, for the window cannot always be seen. */
export function useTitle(desk: Desk | undefined) {
  const busy = desk?.sweeps.filter(isBusy) ?? [];
  const far = busy.length && busy.reduce((sum, each) => sum + (each.run?.progress ?? 0), 0) / busy.length;
  const title = desk ? words.desk.title(desk.frame.name) : words.app.name;
  useEffect(() => {
    document.title = busy.length ? `${words.units.percent(Math.round(100 * far))} · ${title}` : title;
    return () => {
      document.title = words.app.name;
    };
  }, [busy.length, far, title]);
}
