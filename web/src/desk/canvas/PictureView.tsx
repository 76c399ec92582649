import { Box } from "@chakra-ui/react";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Desk, Stroke } from "../../api/client";
import type { Actions } from "../actions";
import { lookNow, looksAhead } from "../look";
import { SURROUNDS, useDeskState } from "../state";
import { Hatch } from "./hatch";
import { type Drawing, useBrush } from "./useBrush";
import { PictureViewer } from "./viewer";

type Props = {
  desk: Desk;
  actions: Actions;
  onViewer: (viewer: PictureViewer | null) => void;
  onZoom: (zoom: number) => void;
};
const FLAG = 20;

/** The picture in deep zoom, and over it masks, flags and the brush. */
export function PictureView({ desk, actions, onViewer, onZoom }: Props) {
  const room = useRef<HTMLDivElement>(null);
  const layer = useRef<HTMLCanvasElement>(null);
  const drawing = useMemo<Drawing>(() => ({ stroke: null, pointer: null }), []);
  const hatch = useMemo(() => new Hatch(), []);
  const [viewer, setViewer] = useState<PictureViewer | null>(null);
  const latest = useRef(desk);
  latest.current = desk;
  const queued = useRef(0);
  const state = useDeskState();
  const { id, width, height } = desk.frame;

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
    ctx.clearRect(0, 0, wide, tall);
    const css = viewer.placing();
    const at = { x: css.x * density, y: css.y * density, scale: css.scale * density };
    paintMarks(ctx, hatch, latest.current, drawing.stroke, at);
    paintFlags(ctx, latest.current, at, density);
    paintBrush(ctx, drawing, at, density);
  }, [viewer, drawing, hatch]);

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
      if (made.osd.viewport) onZoom(made.zoom());
    });
    setViewer(made);
    onViewer(made);
    return () => {
      onViewer(null);
      made.destroy();
      setViewer(null);
    };
  }, [id, width, height, onViewer, onZoom]);

  useEffect(() => {
    viewer?.show(lookNow(desk, state), looksAhead(desk, state.selected));
    redraw();
  }, [viewer, desk, state, redraw]);

  const hand = useMemo(
    () => (viewer ? { viewer, paint: (stroke: Stroke) => actions.paint(stroke), redraw } : null),
    [viewer, actions, redraw],
  );
  useBrush(layer, drawing, hand);

  return (
    <Box position="relative" flex="1" minH="0" bg={SURROUNDS[state.surround]} overflow="hidden">
      <Box ref={room} position="absolute" inset="10px" data-testid="picture" />
      <canvas
        ref={layer}
        data-testid="layer"
        aria-label="Picture: paint here to mark what goes"
        style={{
          position: "absolute",
          inset: 10,
          width: "calc(100% - 20px)",
          height: "calc(100% - 20px)",
          touchAction: "none",
          cursor: state.hand ? "grab" : "none",
        }}
      />
    </Box>
  );
}

function paintMarks(
  ctx: CanvasRenderingContext2D,
  hatch: Hatch,
  desk: Desk,
  drawn: Stroke | null,
  at: { x: number; y: number; scale: number },
) {
  const { masks, selected, pending, asShot, before } = useDeskState.getState();
  if (!masks || asShot || before) return;
  let placed = false;
  const extra = (sweep: string | null) => pending.filter((p) => p.sweep === sweep).map((p) => p.stroke);
  for (const sweep of desk.sweeps) {
    const unfilled = sweep.takes.length === 0;
    if (!unfilled || !sweep.shown) continue;
    const strokes = [...sweep.strokes, ...extra(sweep.id)];
    if (sweep.id === selected) {
      placed = true;
      // What was started before the sweep had a number belongs to it too.
      strokes.push(...extra("next"));
      if (drawn) strokes.push(drawn);
    }
    if (strokes.length) hatch.paint(ctx, strokes, at, sweep.id === selected ? 0.85 : 0.5);
  }
  if (!placed) {
    const strokes = [...extra(null), ...extra("next"), ...(drawn && !drawn.erase ? [drawn] : [])];
    if (strokes.length) hatch.paint(ctx, strokes, at, 0.85);
  }
}

function paintFlags(
  ctx: CanvasRenderingContext2D,
  desk: Desk,
  at: { x: number; y: number; scale: number },
  density: number,
) {
  const { masks, selected, asShot } = useDeskState.getState();
  if (!masks || asShot) return;
  ctx.font = `700 ${12 * density}px 'Atkinson Hyperlegible', sans-serif`;
  ctx.textAlign = "center";
  ctx.textBaseline = "middle";
  const size = FLAG * density;
  for (const sweep of desk.sweeps) {
    if (sweep.box.width <= 0) continue;
    const x = Math.min(
      Math.max(at.x + (sweep.box.x + sweep.box.width) * at.scale + 4, 2),
      ctx.canvas.width - size - 2,
    );
    const y = Math.min(Math.max(at.y + sweep.box.y * at.scale - size, 2), ctx.canvas.height - size - 2);
    const done = sweep.state === "kept";
    ctx.globalAlpha = sweep.shown ? 1 : 0.55;
    ctx.fillStyle = done ? "#1b1b1a" : "#f4f4f2";
    ctx.strokeStyle = sweep.id === selected ? "#f2a71b" : "#1b1b1a";
    ctx.lineWidth = (sweep.id === selected ? 2.5 : 1) * density;
    ctx.beginPath();
    ctx.roundRect(x, y, size, size, 3 * density);
    ctx.fill();
    ctx.stroke();
    ctx.fillStyle = done ? "#ffffff" : "#1b1b1a";
    ctx.fillText(String(sweep.number), x + size / 2, y + size / 2 + density);
    ctx.globalAlpha = 1;
  }
}

function paintBrush(ctx: CanvasRenderingContext2D, drawing: Drawing, at: { scale: number }, density: number) {
  const { size, erase, flipped, hand, asShot } = useDeskState.getState();
  if (!drawing.pointer || hand || asShot) return;
  const x = drawing.pointer.x * density;
  const y = drawing.pointer.y * density;
  const radius = Math.max((size / 2) * at.scale, 1);
  for (const [colour, wide] of [
    ["rgba(0,0,0,.75)", 2.6],
    ["#ffffff", 1.2],
  ] as const) {
    ctx.strokeStyle = colour;
    ctx.lineWidth = wide * density;
    ctx.setLineDash(erase !== flipped ? [5 * density, 4 * density] : []);
    ctx.beginPath();
    ctx.arc(x, y, radius, 0, Math.PI * 2);
    ctx.stroke();
  }
  ctx.setLineDash([]);
}
