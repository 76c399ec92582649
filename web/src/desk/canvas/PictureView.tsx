import { Box, VisuallyHidden } from "@chakra-ui/react";
import { useEffect, useMemo, useRef } from "react";
import type { Desk } from "../../api/client";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";
import { lookAgainst, lookNow, looksAhead } from "../reading/look";
import { said } from "../reading/said";
import { chosen } from "../reading/sweeps";
import { SURROUNDS } from "../state/looking";
import { type DeskState, useDeskState, useStateOf } from "../state/state";
import type { Hand } from "./hand/gesture";
import { useHand } from "./hand/useHand";
import { isRound } from "./paint/tools";
import { Painter } from "./painter";
import { isTouch } from "./touching";
import { useBlink } from "./useBlink";
import { useViewer } from "./useViewer";
import type { PictureViewer } from "./viewer";

type Props = {
  desk: Desk;
  actions: Actions;
  onViewer: (viewer: PictureViewer | null) => void;
};
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
  "pieceSize",
  "hand",
  "sourcing",
  "surround",
] as const;

/** The picture in deep zoom, and over it masks, flags and the brush. */
export function PictureView({ desk, actions, onViewer }: Props) {
  const room = useRef<HTMLDivElement>(null);
  const layer = useRef<HTMLCanvasElement>(null);
  const state = useStateOf(...SHOWN);
  const { id, width, height } = desk.frame;
  const { masks } = actions;
  // biome-ignore lint/correctness/useExhaustiveDependencies: one for each frame as large as it is; it is told of what is new
  const painter = useMemo(() => new Painter(desk, masks), [id, width, height, masks]);
  painter.desk = desk;
  const viewer = useViewer(room, painter, onViewer);
  useBlink(state.compare === "blink");
  useEffect(() => {
    painter.canvas = layer.current;
    return useDeskState.subscribe(painter.redraw);
  }, [painter]);
  useShown(desk, state, painter, viewer);
  useEffect(() => {
    actions.doing.strokeMade = (revision) => viewer?.looks.showLater(revision);
  }, [viewer, actions]);
  useEffect(() => {
    masks.ensure(desk).then(painter.redraw);
    masks.onChange = painter.redraw;
  }, [masks, desk, painter]);
  useHand(layer, painter.drawing, useHandAt(viewer, painter, actions));

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

type Seen = Pick<DeskState, (typeof SHOWN)[number]>;

/** The picture as it is looked at now, and what is laid over it while a tool is in the hand. */
function useShown(desk: Desk, state: Seen, painter: Painter, viewer: PictureViewer | null) {
  useEffect(() => {
    const sweep = chosen(desk, state.selected);
    const split = state.compare === "split" && sweep?.takes.length && !state.asShot && !state.before;
    const over = split ? { look: lookAgainst(desk, sweep, state.against), line: state.line } : null;
    viewer?.looks.show(lookNow(desk, state), looksAhead(desk, state.selected, isTouch(state.tool)), over);
    painter.firstLooks.follow(desk, viewer?.looks.isSettled ?? false);
    painter.redraw();
  }, [viewer, desk, state, painter]);
  useEffect(() => {
    if (state.tool === "pieces") painter.pieces.show(state.pieceSize);
    else painter.drawing.pieces = new Set();
    if (state.tool !== "corners") painter.drawing.corners = [];
  }, [painter, state.tool, state.pieceSize]);
}

/** What a hand on the picture can do. */
function useHandAt(viewer: PictureViewer | null, painter: Painter, actions: Actions): Hand | null {
  return useMemo(
    () =>
      viewer && {
        viewer,
        pieces: painter.pieces,
        under: painter.under,
        draw: actions.draw,
        take: (numbers, erase) => actions.takePieces(useDeskState.getState().pieceSize, numbers, erase),
        touch: actions.touch,
        sourceStill: painter.sourceStill,
        redraw: painter.redraw,
      },
    [viewer, painter, actions],
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
