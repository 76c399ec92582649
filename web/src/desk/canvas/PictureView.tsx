import { Box } from "@chakra-ui/react";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Desk } from "../../api/client";
import type { Actions } from "../actions";
import { chosen, lookAgainst, lookNow, looksAhead } from "../look";
import { SURROUNDS, useDeskState } from "../state";
import { FarSource, inView } from "./farSource";
import { Hatch, type MaskLook } from "./hatch";
import { GUARD, type Masks } from "./masks";
import { Pieces } from "./pieces";
import { type Drawn, drawShapes, type Placing } from "./shapes";
import { Still } from "./still";
import { copiedFrom, isTouch, type Laid, paintLaid, paintSource, sourceAt } from "./touching";
import { type Drawing, type Hand, useHand } from "./useHand";
import { PictureViewer } from "./viewer";

type Props = {
  desk: Desk;
  actions: Actions;
  onViewer: (viewer: PictureViewer | null) => void;
  onZoom: (zoom: number) => void;
};
const FLAG = 20;
/** How long each of two takes that blink is seen, ms. */
const BLINK = 600;
/** What is guarded has a look of its own, so that nobody takes it for a mark. */
const GUARDED: MaskLook = { colour: "#2f6fb5", strength: 0.9, pattern: "dots" };

/** The picture in deep zoom, and over it masks, flags and the brush. */
export function PictureView({ desk, actions, onViewer, onZoom }: Props) {
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
  const state = useDeskState();
  const { id, width, height } = desk.frame;
  const { masks } = actions;
  const pieces = useMemo(
    () => new Pieces({ id, width, height }, () => redrawNow.current()),
    [id, width, height],
  );

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
    ctx.clearRect(0, 0, wide, tall);
    const css = viewer.placing();
    const at = { x: css.x * density, y: css.y * density, scale: css.scale * density };
    const scene = { ctx, at, density, desk: latest.current, masks, drawing };
    if (useDeskState.getState().maskAlone) paintAlone(scene, { width, height });
    else paintMarks(scene, hatch, still);
    paintFinds(scene);
    paintGhosts(scene);
    paintPieces(scene, pieces);
    paintCorners(scene);
    paintFlags(scene);
    paintLine(scene);
    paintSnag(scene);
    paintTouch(scene, sourceStill);
    paintBrush(scene);
  }, [viewer, drawing, hatch, still, masks, pieces, width, height, sourceStill]);

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
    // Strokes are drawn over the picture only until it shows them itself.
    made.onShown = (look) => {
      const shown = Number(new URLSearchParams(look).get("revision") ?? 0);
      const { laid, set } = useDeskState.getState();
      const left = laid.filter((each) => each.revision === null || each.revision > shown);
      if (left.length < laid.length) set({ laid: left });
    };
    setViewer(made);
    onViewer(made);
    return () => {
      onViewer(null);
      made.destroy();
      setViewer(null);
    };
  }, [id, width, height, onViewer, onZoom]);

  useEffect(() => {
    const sweep = chosen(desk, state.selected);
    const split = state.compare === "split" && sweep?.takes.length && !state.asShot && !state.before;
    const over = split ? { look: lookAgainst(desk, sweep, state.against), line: state.line } : null;
    viewer?.show(lookNow(desk, state), looksAhead(desk, state.selected, isTouch(state.tool)), over);
    redraw();
  }, [viewer, desk, state, redraw]);
  useEffect(() => {
    actions.strokes.made = (revision) => viewer?.showLater(revision);
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
        draw: actions.draw,
        take: (numbers, erase) => actions.takePieces(useDeskState.getState().grain, numbers, erase),
        touch: actions.touch,
        sourceStill,
        redraw,
      },
    [viewer, pieces, actions, redraw, sourceStill],
  );
  useHand(layer, drawing, hand);

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
          cursor: state.hand ? "grab" : isRound(state.tool) && !state.sourcing ? "none" : "crosshair",
        }}
      />
    </Box>
  );
}

type Scene = {
  ctx: CanvasRenderingContext2D;
  at: Placing;
  density: number;
  desk: Desk;
  masks: Masks;
  drawing: Drawing;
};

/** What each unfilled sweep covers: the server's mask, then what is on its way there, then what is being drawn. */
function marked({ desk, masks, drawing }: Scene): { shapes: Drawn[]; chosen: boolean }[] {
  const { selected, pending, guarding } = useDeskState.getState();
  const on = (sweep: string | null) => pending.filter((p) => p.sweep === sweep).map((p) => p.shape);
  const drawn = drawing.shape && !guarding ? [drawing.shape] : [];
  const out: { shapes: Drawn[]; chosen: boolean }[] = [];
  let placed = false;
  for (const sweep of desk.sweeps) {
    if (sweep.takes.length || !sweep.shown) continue;
    const known = masks.of(sweep.id);
    const shapes: Drawn[] = [...(known ? [known] : []), ...on(sweep.id)];
    const chosen = sweep.id === selected;
    if (chosen) {
      placed = true;
      // What was started before the sweep had a number belongs to it too.
      shapes.push(...on("next"), ...drawn);
    }
    if (shapes.length) out.push({ shapes, chosen });
  }
  if (!placed) {
    const shapes = [...on(null), ...on("next"), ...drawn.filter((shape) => !shape.erase)];
    if (shapes.length) out.push({ shapes, chosen: true });
  }
  return out;
}

function guarded({ masks, drawing }: Scene): Drawn[] {
  const { pending, guarding } = useDeskState.getState();
  const known = masks.of(GUARD);
  return [
    ...(known ? [known] : []),
    ...pending.filter((p) => p.sweep === GUARD).map((p) => p.shape),
    ...(guarding && drawing.shape ? [drawing.shape] : []),
  ];
}

function paintMarks(scene: Scene, hatch: Hatch, still: Still) {
  const { masks, asShot, before, look } = useDeskState.getState();
  if (!masks || asShot || before) return;
  const { at, drawing } = scene;
  const groups = marked(scene).map(({ shapes, chosen }) => ({
    shapes,
    look: chosen ? look : { ...look, strength: look.strength * 0.6 },
  }));
  const guard = guarded(scene);
  if (guard.length) groups.push({ shapes: guard, look: GUARDED });
  const grows = ({ shapes }: { shapes: Drawn[] }) => drawing.shape !== null && shapes.includes(drawing.shape);
  const rest = groups.filter((group) => !grows(group));
  const key = JSON.stringify([at, rest.map((group) => [group.look, group.shapes.map((s) => still.name(s))])]);
  still.put(scene.ctx, key, (ctx) => {
    for (const group of rest) hatch.paint(ctx, group.shapes, at, group.look);
  });
  for (const group of groups.filter(grows)) hatch.paint(scene.ctx, group.shapes, at, group.look);
}

/** The mask alone, white on black. */
function paintAlone(scene: Scene, picture: { width: number; height: number }) {
  const { ctx, at } = scene;
  ctx.fillStyle = "#000000";
  ctx.fillRect(at.x, at.y, picture.width * at.scale, picture.height * at.scale);
  // Shapes that take away would cut the black as well: each sweep gets a sheet of its own.
  const sheet = new OffscreenCanvas(ctx.canvas.width, ctx.canvas.height);
  const own = sheet.getContext("2d") as unknown as CanvasRenderingContext2D | null;
  if (!own) return;
  for (const { shapes } of marked(scene)) {
    own.clearRect(0, 0, sheet.width, sheet.height);
    drawShapes(own, shapes, at, 0, "#ffffff");
    ctx.drawImage(sheet, 0, 0);
  }
}

/** What the scouts found: outlines, firm where it goes, broken where it stays; the chosen one in the accent. */
function paintFinds({ ctx, at, density, masks, drawing }: Scene) {
  const { asShot, masks: shown, find } = useDeskState.getState();
  if (asShot || !shown) return;
  for (const each of masks.finds) {
    const chosen = each.id === find;
    ctx.save();
    ctx.setTransform(at.scale, 0, 0, at.scale, at.x, at.y);
    for (const [colour, wide] of [
      ["#1b1b1a", chosen ? 5 : 3.6],
      [chosen ? "#f2a71b" : "#ffffff", chosen ? 2.8 : 1.8],
    ] as const) {
      ctx.strokeStyle = colour;
      ctx.lineWidth = (wide * density) / at.scale;
      ctx.setLineDash(each.goes ? [] : [(6 * density) / at.scale, (6 * density) / at.scale]);
      for (const path of [each.path, ...each.also]) ctx.stroke(path.path);
    }
    ctx.restore();
  }
  if (find !== null && drawing.shape) drawShapes(ctx, [drawing.shape], at, 0, "rgba(242,167,27,.6)");
}

/** What seems to belong to the mark too: an outline only, until it is taken. */
function paintGhosts({ ctx, at, density, masks }: Scene) {
  const { asShot, masks: shown } = useDeskState.getState();
  if (asShot || !shown) return;
  for (const { path } of masks.ghosts) {
    ctx.save();
    ctx.setTransform(at.scale, 0, 0, at.scale, at.x, at.y);
    for (const [colour, wide] of [
      ["#1b1b1a", 3.2],
      ["#ffffff", 1.6],
    ] as const) {
      ctx.strokeStyle = colour;
      ctx.lineWidth = (wide * density) / at.scale;
      ctx.setLineDash([(7 * density) / at.scale, (5 * density) / at.scale]);
      ctx.stroke(path);
    }
    ctx.restore();
  }
}

/** The piece under the pointer, before a click takes it, and those stroked over. */
function paintPieces({ ctx, at, density, drawing }: Scene, pieces: Pieces) {
  const { tool, look } = useDeskState.getState();
  if (tool !== "pieces" || !drawing.pointer) return;
  const x = (drawing.pointer.x * density - at.x) / at.scale;
  const y = (drawing.pointer.y * density - at.y) / at.scale;
  const under = pieces.at(x, y);
  pieces.paint(ctx, new Set([...drawing.pieces, ...(under === null ? [] : [under])]), at, look.colour);
}

/** Corners set so far, and the line to the pointer. */
function paintCorners({ ctx, at, density, drawing }: Scene) {
  const [first] = drawing.corners;
  if (!first) return;
  const place = ([x, y]: [number, number]) => [at.x + x * at.scale, at.y + y * at.scale] as const;
  for (const [colour, wide] of [
    ["rgba(0,0,0,.75)", 3],
    ["#ffffff", 1.4],
  ] as const) {
    ctx.strokeStyle = colour;
    ctx.lineWidth = wide * density;
    ctx.beginPath();
    ctx.moveTo(...place(first));
    for (const corner of drawing.corners.slice(1)) ctx.lineTo(...place(corner));
    if (drawing.pointer) ctx.lineTo(drawing.pointer.x * density, drawing.pointer.y * density);
    ctx.stroke();
  }
  for (const corner of drawing.corners) {
    const [x, y] = place(corner);
    const half = (corner === first ? 5 : 3) * density;
    ctx.fillStyle = "#ffffff";
    ctx.fillRect(x - half, y - half, 2 * half, 2 * half);
    ctx.strokeStyle = "#1b1b1a";
    ctx.lineWidth = density;
    ctx.strokeRect(x - half, y - half, 2 * half, 2 * half);
  }
}

function paintFlags({ ctx, at, density, desk }: Scene) {
  const { masks, selected, asShot } = useDeskState.getState();
  if (!masks || asShot) return;
  ctx.font = `700 ${12 * density}px 'Atkinson Hyperlegible', sans-serif`;
  ctx.textAlign = "center";
  ctx.textBaseline = "middle";
  const size = FLAG * density;
  for (const sweep of desk.sweeps) {
    if (sweep.box.width <= 0) continue;
    const right = Math.min(sweep.box.x + sweep.box.width, desk.frame.width);
    const x = Math.min(
      Math.max(Math.min(at.x + right * at.scale + 4, at.x + desk.frame.width * at.scale - size), 2),
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

/** Where the snag is that was gone to: corners round it, so that nothing of it is covered. */
function paintSnag({ ctx, at, density, desk }: Scene) {
  const { snag, asShot, before, selected } = useDeskState.getState();
  const found = chosen(desk, selected)?.snags.find((each) => each.id === snag && !each.dismissed);
  if (!found || asShot || before) return;
  const rim = 8 * density;
  const [left, top] = [at.x + found.box.x * at.scale - rim, at.y + found.box.y * at.scale - rim];
  const right = left + found.box.width * at.scale + 2 * rim;
  const bottom = top + found.box.height * at.scale + 2 * rim;
  const arm = Math.min(18 * density, (right - left) / 3, (bottom - top) / 3);
  for (const [colour, wide] of [
    ["rgba(0,0,0,.75)", 4],
    ["#f2a71b", 2],
  ] as const) {
    ctx.strokeStyle = colour;
    ctx.lineWidth = wide * density;
    ctx.beginPath();
    for (const [x, across] of [
      [left, arm],
      [right, -arm],
    ] as const)
      for (const [y, down] of [
        [top, arm],
        [bottom, -arm],
      ] as const) {
        ctx.moveTo(x + across, y);
        ctx.lineTo(x, y);
        ctx.lineTo(x, y + down);
      }
    ctx.stroke();
  }
}

/** The line between two takes, with a grip in its middle. */
function paintLine({ ctx, density }: Scene) {
  const { compare, line, asShot, before } = useDeskState.getState();
  if (compare !== "split" || asShot || before) return;
  const x = line * ctx.canvas.width;
  const middle = ctx.canvas.height / 2;
  for (const [colour, wide] of [
    ["#1b1b1a", 4],
    ["#ffffff", 2],
  ] as const) {
    ctx.strokeStyle = colour;
    ctx.lineWidth = wide * density;
    ctx.beginPath();
    ctx.moveTo(x, 0);
    ctx.lineTo(x, ctx.canvas.height);
    ctx.stroke();
  }
  ctx.fillStyle = "#ffffff";
  ctx.strokeStyle = "#1b1b1a";
  ctx.beginPath();
  ctx.roundRect(x - 5 * density, middle - 16 * density, 10 * density, 32 * density, 3 * density);
  ctx.fill();
  ctx.stroke();
}

/** What there is to be seen round a point that is copied from; null while that has to be fetched. */
type StillOf = (point: [number, number]) => Laid["still"] | null;

const isRound = (tool: string) => tool === "brush" || isTouch(tool);

/** Touch-up strokes on their way into the picture, what the brush would lay, and where it copies from. */
function paintTouch({ ctx, at, density, drawing }: Scene, sourceStill: StillOf) {
  const state = useDeskState.getState();
  if (state.asShot || state.before) return;
  for (const each of state.laid) paintLaid(ctx, each, at);
  if (drawing.laid) paintLaid(ctx, drawing.laid, at);
  const { tool, size, softness, strength } = state;
  if (!isTouch(tool) || state.hand || !drawing.pointer) return;
  const pointer: [number, number] = [
    (drawing.pointer.x * density - at.x) / at.scale,
    (drawing.pointer.y * density - at.y) / at.scale,
  ];
  const source = drawing.laid ? drawing.laid.source : sourceAt(state, pointer);
  if (!source) {
    if (state.source && tool !== "bring back") paintSource(ctx, state.source.at, at, density);
    return;
  }
  if (!drawing.laid && !state.sourcing) {
    // Before anything is painted, what would be.
    const stroke = { kind: "stroke" as const, points: [pointer], size, softness, erase: false };
    const still = sourceStill(copiedFrom(source, pointer));
    if (still) paintLaid(ctx, { brush: tool, stroke, source, strength, still, revision: null }, at);
  }
  paintSource(ctx, copiedFrom(source, pointer), at, density);
}

function paintBrush({ ctx, at, density, drawing }: Scene) {
  const { size, erase, flipped, hand, asShot, tool, sourcing } = useDeskState.getState();
  if (!drawing.pointer || hand || asShot || sourcing || !isRound(tool)) return;
  const x = drawing.pointer.x * density;
  const y = drawing.pointer.y * density;
  const radius = Math.max((size / 2) * at.scale, 1);
  for (const [colour, wide] of [
    ["rgba(0,0,0,.75)", 2.6],
    ["#ffffff", 1.2],
  ] as const) {
    ctx.strokeStyle = colour;
    ctx.lineWidth = wide * density;
    ctx.setLineDash(tool === "brush" && erase !== flipped ? [5 * density, 4 * density] : []);
    ctx.beginPath();
    ctx.arc(x, y, radius, 0, Math.PI * 2);
    ctx.stroke();
  }
  ctx.setLineDash([]);
}
