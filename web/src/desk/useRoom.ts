import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { useDesk, useScouts, useSeries } from "../api/queries";
import type { PictureViewer } from "./canvas/viewer";
import { useActions } from "./doing/actions";
import { firstSize } from "./reading/brush";
import { chosen } from "./reading/sweeps";
import { useDeskState, useStateOf } from "./state/state";

/** What is open on the desk of a frame, and the views of its picture: the one that lies under a wall, and the wall's. */
export function useRoom(frame: number) {
  const desk = useDesk(frame);
  const actions = useActions(frame);
  const [under, setUnder] = useState<PictureViewer | null>(null);
  const [leader, setLeader] = useState<PictureViewer | null>(null);
  const open = useNavigate();
  const { strip, wall, selected } = useStateOf("strip", "wall", "selected");
  const scouts = useScouts(frame);
  const series = useSeries(strip);
  const here = desk.data && chosen(desk.data, selected);
  const onWall = wall && here?.takes.length ? here : null;
  const viewer = onWall ? leader : under;
  useBrushSize(desk.data?.frame);
  const go = useGo(frame, actions);
  const room = useMemo(
    () =>
      desk.data
        ? { desk: desk.data, scouts: scouts.data, series: series.data, actions, viewer, go, open }
        : null,
    [desk.data, scouts.data, series.data, actions, viewer, go, open],
  );
  return { desk, room, onWall, under, setUnder, setLeader };
}

/** Until somebody sets it, the brush is as large as suits each picture. */
function useBrushSize(picture: { width: number; height: number } | undefined) {
  const suits = picture && firstSize(picture);
  useEffect(() => {
    const { size, ownSize, set } = useDeskState.getState();
    if (suits && size === ownSize) set({ size: suits, ownSize: suits });
  }, [suits]);
}

/** To another frame, with one of its sweeps chosen; each starts with nothing else. */
function useGo(frame: number, actions: ReturnType<typeof useActions>) {
  const open = useNavigate();
  const { select, set } = useStateOf("select", "set");
  const arriving = useRef<string | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another frame starts with nothing chosen
  useEffect(() => {
    select(arriving.current);
    arriving.current = null;
    set({
      problem: null,
      done: null,
      taken: null,
      pending: [],
      laid: [],
      source: null,
      cautions: [],
      asShot: false,
      before: false,
      find: null,
      pointing: false,
    });
    // Scouts look while the photographer does, so that finds are there when they are asked for.
    actions.scout();
  }, [frame, actions]);
  return useCallback(
    (to: number, sweep?: string) => {
      if (to === frame) return select(sweep ?? null);
      arriving.current = sweep ?? null;
      open(`/frames/${to}`);
    },
    [frame, open, select],
  );
}
