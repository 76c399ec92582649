import { type RefObject, useEffect, useRef } from "react";
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
  // Read once for each frame that is opened, and before anything is written.
  if (frame !== undefined && open.current !== frame) {
    open.current = frame;
    wanted.current = read(window.location.search);
  }
  useEffect(() => {
    const said = wanted.current;
    if (!desk || !said || said.sweep === undefined) return;
    wanted.current = { at: said.at };
    choose(desk, said);
  }, [desk]);
  useEffect(() => {
    const at = wanted.current?.at;
    if (!viewer || !at) return;
    viewer.whenOpen(() => {
      wanted.current = {};
      viewer.camera.goTo({ x: at.x, y: at.y, scale: at.percent / 100 / window.devicePixelRatio });
    });
  }, [viewer]);
  useWritten(desk, viewer, wanted);
}

/** Choose the sweep and the take that an address names, if they are there. */
function choose(desk: Desk, said: Said) {
  const sweep = desk.sweeps.find((each) => each.number === said.sweep);
  if (!sweep) return;
  const { select, set } = useDeskState.getState();
  select(sweep.id);
  const take = said.take ? sweep.takes[said.take - 1]?.id : said.take;
  if (take !== undefined) set({ viewed: take });
}

/** The address follows what is looked at, once it is still. */
function useWritten(desk: Desk | undefined, viewer: PictureViewer | null, wanted: RefObject<Said | null>) {
  const latest = useRef(desk);
  latest.current = desk;
  useEffect(() => {
    let waiting: ReturnType<typeof setTimeout> | undefined;
    const write = () => {
      const now = latest.current;
      const { pathname, search } = window.location;
      if (!now || !pathname.endsWith(`/${now.frame.id}`)) return;
      const said = saidOf(now, viewer);
      // Where the view is to go is said until it is somewhere.
      const address = `${pathname}${written({ ...said, at: said.at ?? wanted.current?.at })}`;
      if (address !== pathname + search) window.history.replaceState(window.history.state, "", address);
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
  }, [viewer, wanted]);
}

/** What is looked at now. */
function saidOf(desk: Desk, viewer: PictureViewer | null): Said {
  const { selected, viewed } = useDeskState.getState();
  const place = viewer && !viewer.camera.isFitted() ? viewer.camera.place() : null;
  return {
    sweep: desk.sweeps.find((each) => each.id === selected)?.number,
    take: takeOf(desk, selected, viewed),
    at: place ? { x: place.x, y: place.y, percent: 100 * place.scale * window.devicePixelRatio } : undefined,
  };
}
