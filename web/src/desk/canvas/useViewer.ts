import { type RefObject, useEffect, useState } from "react";
import { useDeskState } from "../state/state";
import type { Painter } from "./painter";
import { PictureViewer } from "./viewer";

/** The deep zoom of a frame, made once there is room for it. */
export function useViewer(
  room: RefObject<HTMLDivElement | null>,
  painter: Painter,
  onViewer: (viewer: PictureViewer | null) => void,
): PictureViewer | null {
  const [viewer, setViewer] = useState<PictureViewer | null>(null);
  useEffect(() => {
    if (!room.current) return;
    const { id, width, height } = painter.desk.frame;
    const made = new PictureViewer(room.current, { id, width, height }, () => {
      painter.redraw();
      if (made.osd.viewport) useDeskState.getState().set({ zoom: made.camera.zoom() });
    });
    // Strokes are drawn over the picture only until it shows them itself.
    made.looks.onShown = (look) => {
      const shown = Number(new URLSearchParams(look).get("revision") ?? 0);
      const { laid, set } = useDeskState.getState();
      const left = laid.filter((each) => each.revision === null || each.revision > shown);
      if (left.length < laid.length) set({ laid: left });
      painter.firstLooks.follow(painter.desk, true);
      painter.redraw();
    };
    painter.viewer = made;
    setViewer(made);
    onViewer(made);
    return () => {
      painter.viewer = null;
      onViewer(null);
      made.destroy();
      setViewer(null);
    };
  }, [room, painter, onViewer]);
  return viewer;
}
