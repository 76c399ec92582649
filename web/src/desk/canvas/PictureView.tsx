import { Box, VisuallyHidden } from "@chakra-ui/react";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Desk } from "../../api/client";
import { words } from "../../words/words";
import type { Actions } from "../doing/actions";
import { lookAgainst, lookNow, looksAhead } from "../reading/look";
import { said } from "../reading/said";
import { chosen } from "../reading/sweeps";
import { SURROUNDS } from "../state/looking";
import { useDeskState, useStateOf } from "../state/state";
import { FarSource, inView } from "./farSource";
import { FirstLooks } from "./firstLooks";
import type { Drawing, Hand } from "./hand/gesture";
import { useHand } from "./hand/useHand";
import { Hatch } from "./hatch";
import { paintFinds } from "./paint/finds";
import { paintFirstLooks } from "./paint/firstLooks";
import { paintFlags } from "./paint/flags";
import { paintGhosts } from "./paint/ghosts";
import { paintLine } from "./paint/line";
import { paintAlone, paintMarks } from "./paint/marks";
import { Overview } from "./paint/overview";
import { paintSnag } from "./paint/snag";
import { isRound, paintBrush, paintCorners, paintPieces } from "./paint/tools";
import { paintTouch, type StillOf } from "./paint/touch";
import { Pieces } from "./pieces";
import { Still } from "./still";
import { isTouch } from "./touching";
import { Under } from "./under";
import { PictureViewer } from "./viewer";

type Props = {
  desk: Desk;
  actions: Actions;
  onViewer: (viewer: PictureViewer | null) => void;
};
/** How long each of two takes that blink is seen, ms. */
const BLINK = 600;

/** What of the state decides what is seen of the picture itself; all the rest is painted over it. */
const SHOWN = [
  "selected",
  "viewed",
  "also",
  "asShot",
  "before",
  "harsh",
  "alone",
  "compare",
  "against",
  "blinked",
  "line",
  "tool",
  "grain",
  "hand",
  "sourcing",
  "surround",
] as const;

/** The picture in deep zoom, and over it masks, flags and the brush. */
export function PictureView({ desk, actions, onViewer }: Props) {
  const room = useRef<HTMLDivElement>(null);
  const layer = useRef<HTMLCanvasElement>(null);
  const drawing = useMemo<Drawing>(
    () => ({ shape: null, laid: null, corners: [], pieces: new Set(), pointer: null }),
    [],
  );
  const hatch = useMemo(() => new Hatch(), []);
  const still = useMemo(() => new Still(), []);
  const [viewer, setViewer] = useState<PictureViewer | null>(null);
  const latest = useRef(desk);
  latest.current = desk;
  const queued = useRef(0);
  const state = useStateOf(...SHOWN);
  const { id, width, height } = desk.frame;
  const { masks } = actions;
  const pieces = useMemo(
    () => new Pieces({ id, width, height }, () => redrawNow.current()),
    [id, width, height],
  );

  const under = useMemo(() => new Under(id, () => redrawNow.current()), [id]);
  const firstLooks = useMemo(() => new FirstLooks(id, () => redrawNow.current()), [id]);
  const overview = useMemo(() => new Overview(() => redrawNow.current()), []);
  const far = useMemo(() => new FarSource(() => redrawNow.current()), []);
  const sourceStill = useCallback<StillOf>(
    (point) => {
      const canvas = layer.current;
      if (!canvas || !viewer) return null;
      const density = window.devicePixelRatio;
      const { x, y, scale } = viewer.placing();
      const at = { x: x * density, y: y * density, scale: scale * density };
      if (inView(point, at, canvas)) return { picture: viewer.still(), at };
      const state = useDeskState.getState();
      return far.still(latest.current.frame, lookNow(latest.current, state), point, state.size);
    },
    [viewer, far],
  );
  const draw = useCallback(() => {
    const canvas = layer.current;
    const ctx = canvas?.getContext("2d");
    if (!canvas || !ctx || !viewer?.osd.viewport) return;
    const density = window.devicePixelRatio;
    const wide = Math.round(canvas.clientWidth * density);
    const tall = Math.round(canvas.clientHeight * density);
    if (canvas.width !== wide || canvas.height !== tall) {
      canvas.width = wide;
      canvas.height = tall;
    }
    if (!wide || !tall) return;
    ctx.clearRect(0, 0, wide, tall);
    const css = viewer.placing();
    const at = { x: css.x * density, y: css.y * density, scale: css.scale * density };
    const scene = { ctx, at, density, desk: latest.current, masks, drawing, firstLooks };
    if (useDeskState.getState().maskAlone) paintAlone(scene, { width, height });
    else paintMarks(scene, hatch, still);
    paintFirstLooks(scene);
    paintFinds(scene);
    paintGhosts(scene, under.path);
    paintPieces(scene, pieces);
    paintCorners(scene);
    paintFlags(scene);
    paintLine(scene);
    overview.paint(scene);
    paintSnag(scene);
    paintTouch(scene, sourceStill);
    paintBrush(scene);
  }, [viewer, drawing, hatch, still, masks, pieces, width, height, sourceStill, overview, under, firstLooks]);

  const redraw = useCallback(() => {
    cancelAnimationFrame(queued.current);
    queued.current = requestAnimationFrame(draw);
  }, [draw]);
  const redrawNow = useRef(redraw);
  redrawNow.current = redraw;

  useEffect(() => {
    if (!room.current) return;
    const made = new PictureViewer(room.current, { id, width, height }, () => {
      redrawNow.current();
      if (made.osd.viewport) useDeskState.getState().set({ zoom: made.zoom() });
    });
    // Strokes are drawn over the picture only until it shows them itself.
    made.onShown = (look) => {
      const shown = Number(new URLSearchParams(look).get("revision") ?? 0);
      const { laid, set } = useDeskState.getState();
      const left = laid.filter((each) => each.revision === null || each.revision > shown);
      if (left.length < laid.length) set({ laid: left });
      firstLooks.follow(latest.current, true);
      redrawNow.current();
    };
    setViewer(made);
    onViewer(made);
    return () => {
      onViewer(null);
      made.destroy();
      setViewer(null);
    };
  }, [id, width, height, onViewer, firstLooks]);

  useEffect(() => {
    const sweep = chosen(desk, state.selected);
    const split = state.compare === "split" && sweep?.takes.length && !state.asShot && !state.before;
    const over = split ? { look: lookAgainst(desk, sweep, state.against), line: state.line } : null;
    viewer?.show(lookNow(desk, state), looksAhead(desk, state.selected, isTouch(state.tool)), over);
    firstLooks.follow(desk, viewer?.isSettled ?? false);
    redraw();
  }, [viewer, desk, state, redraw, firstLooks]);
  useEffect(() => useDeskState.subscribe(redraw), [redraw]);
  useEffect(() => {
    actions.doing.strokeMade = (revision) => viewer?.showLater(revision);
  }, [viewer, actions]);
  useEffect(() => {
    if (state.compare !== "blink") return;
    const blink = setInterval(() => {
      const { blinked, set } = useDeskState.getState();
      set({ blinked: !blinked });
    }, BLINK);
    return () => clearInterval(blink);
  }, [state.compare]);

  useEffect(() => {
    masks.ensure(desk).then(redraw);
    masks.onChange = redraw;
  }, [masks, desk, redraw]);
  useEffect(() => {
    if (state.tool === "pieces") pieces.show(state.grain);
    else drawing.pieces = new Set();
    if (state.tool !== "corners") drawing.corners = [];
  }, [pieces, drawing, state.tool, state.grain]);

  const hand = useMemo<Hand | null>(
    () =>
      viewer && {
        viewer,
        pieces,
        under,
        draw: actions.draw,
        take: (numbers, erase) => actions.takePieces(useDeskState.getState().grain, numbers, erase),
        touch: actions.touch,
        sourceStill,
        redraw,
      },
    [viewer, pieces, under, actions, redraw, sourceStill],
  );
  useHand(layer, drawing, hand);

  return (
    <Box position="relative" flex="1" minH="0" bg={SURROUNDS[state.surround]} overflow="hidden">
      <Box ref={room} position="absolute" inset="10px" data-testid="picture" />
      {/* biome-ignore lint/a11y/noInteractiveElementToNoninteractiveRole: it takes keys as it takes a pen */}
      <canvas
        ref={layer}
        data-testid="layer"
        role="application"
        tabIndex={0}
        aria-label={words.canvas.picture}
        aria-describedby="what-is-there"
        style={{
          position: "absolute",
          inset: 10,
          width: "calc(100% - 20px)",
          height: "calc(100% - 20px)",
          touchAction: "none",
          cursor: state.hand ? "grab" : isRound(state.tool) && !state.sourcing ? "none" : "crosshair",
        }}
      />
      <Told desk={desk} />
    </Box>
  );
}

/** What the canvas shows, in words: what is on it, and where the brush is that is moved by keys. */
function Told({ desk }: { desk: Desk }) {
  const { brushAt } = useStateOf("brushAt");
  const sweeps = desk.sweeps.map((each) => `${each.number} ${each.name}: ${said(each)}`);
  return (
    <VisuallyHidden>
      <span id="what-is-there">{sweeps.length ? sweeps.join("; ") : words.canvas.nothingMarked}</span>
      <span role="status">{brushAt && words.canvas.brushAt(brushAt.isDown, brushAt.x, brushAt.y)}</span>
    </VisuallyHidden>
  );
}
