import { useEffect, useRef } from "react";
import type { Desk } from "../../api/client";
import type { PictureViewer } from "../canvas/viewer";
import { read, type Said, written } from "./address";
import { useDeskState } from "./state";

/** How long the view must be still before the address says where it is, ms: browsers count how often it changes. */
const STILL = 400;

const takeOf = (desk: Desk, selected: string | null, viewed: number | null): number | undefined => {
  const sweep = desk.sweeps.find((each) => each.id === selected);
  if (!sweep || viewed === null) return undefined;
  return viewed === 0 ? 0 : sweep.takes.findIndex((each) => each.id === viewed) + 1 || undefined;
};

/** The address says which sweep, which take and which place is looked at, and is gone by when the desk opens. */
export function useAddress(desk: Desk | undefined, viewer: PictureViewer | null) {
  const frame = desk?.frame.id;
  const wanted = useRef<Said | null>(null);
  const open = useRef<number | undefined>(undefined);
  const latest = useRef(desk);
  latest.current = desk;

  // Read once for each frame that is opened, and before anything is written.
  if (frame !== undefined && open.current !== frame) {
    open.current = frame;
    wanted.current = read(window.location.search);
  }

  useEffect(() => {
    const said = wanted.current;
    if (!desk || !said || said.sweep === undefined) return;
    const sweep = desk.sweeps.find((each) => each.number === said.sweep);
    wanted.current = { at: said.at };
    if (!sweep) return;
    const { select, set } = useDeskState.getState();
    select(sweep.id);
    const take = said.take ? sweep.takes[said.take - 1]?.id : said.take;
    if (take !== undefined) set({ viewed: take });
  }, [desk]);

  useEffect(() => {
    const at = wanted.current?.at;
    if (!viewer || !at) return;
    viewer.whenOpen(() => {
      wanted.current = {};
      viewer.goTo({ x: at.x, y: at.y, scale: at.percent / 100 / window.devicePixelRatio });
    });
  }, [viewer]);

  useEffect(() => {
    let waiting: ReturnType<typeof setTimeout> | undefined;
    const write = () => {
      const now = latest.current;
      if (!now || now.frame.id !== open.current || !window.location.pathname.endsWith(`/${now.frame.id}`))
        return;
      const { selected, viewed } = useDeskState.getState();
      const place = viewer && !viewer.isFitted() ? viewer.place() : null;
      const query = written({
        sweep: now.sweeps.find((each) => each.id === selected)?.number,
        take: takeOf(now, selected, viewed),
        at: place
          ? { x: place.x, y: place.y, percent: 100 * place.scale * window.devicePixelRatio }
          : wanted.current?.at,
      });
      const address = `${window.location.pathname}${query}`;
      if (address !== window.location.pathname + window.location.search)
        window.history.replaceState(window.history.state, "", address);
    };
    const soon = () => {
      clearTimeout(waiting);
      waiting = setTimeout(write, STILL);
    };
    const forget = useDeskState.subscribe(soon);
    viewer?.osd.addHandler("update-viewport", soon);
    soon();
    return () => {
      clearTimeout(waiting);
      forget();
      if (viewer?.osd.viewport) viewer.osd.removeHandler("update-viewport", soon);
    };
  }, [viewer]);
}
