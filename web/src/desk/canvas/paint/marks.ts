import { useDeskState } from "../../state/state";
import type { Hatch, MaskLook } from "../hatch";
import { GUARD } from "../masks";
import { type Drawn, drawShapes } from "../shapes";
import type { Still } from "../still";
import type { Scene } from "./scene";

/** What is guarded has a look of its own, so that nobody takes it for a mark. */
export const GUARDED: MaskLook = { colour: "#2f6fb5", strength: 0.9, pattern: "dots" };

/** What each unfilled sweep covers, but for those that are gone already at first look: the server's mask, then what is on its way there, then what is being drawn. */
function marked(
  { desk, masks, drawing }: Scene,
  gone: string[] = [],
): { shapes: Drawn[]; chosen: boolean }[] {
  const { selected, pending, guarding } = useDeskState.getState();
  const on = (sweep: string | null) => pending.filter((p) => p.sweep === sweep).map((p) => p.shape);
  const drawn = drawing.shape && !guarding ? [drawing.shape] : [];
  const out: { shapes: Drawn[]; chosen: boolean }[] = [];
  let placed = false;
  for (const sweep of desk.sweeps) {
    if (sweep.takes.length || !sweep.shown || gone.includes(sweep.id)) continue;
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

export function paintMarks(scene: Scene, hatch: Hatch, still: Still) {
  const { masks, asShot, before, look } = useDeskState.getState();
  if (!masks || asShot || before) return;
  const { at, drawing } = scene;
  const gone = scene.firstLooks.seen.map((each) => each.sweep);
  const groups = marked(scene, gone).map(({ shapes, chosen }) => ({
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
export function paintAlone(scene: Scene, picture: { width: number; height: number }) {
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
