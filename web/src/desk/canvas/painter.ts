import type { Desk } from "../../api/client";
import { COLOURS } from "../../api/screen";
import { lookNow } from "../reading/look";
import { useDeskState } from "../state/state";
import { FarSource, inView } from "./farSource";
import { FirstLooks } from "./firstLooks";
import type { Drawing } from "./hand/gesture";
import { Hatch } from "./hatch";
import type { Masks } from "./masks";
import { paintFinds } from "./paint/finds";
import { paintFirstLooks } from "./paint/firstLooks";
import { paintFlags } from "./paint/flags";
import { paintGhosts } from "./paint/ghosts";
import { paintLine } from "./paint/line";
import { paintAlone, paintMarks } from "./paint/marks";
import { Overview } from "./paint/overview";
import type { Scene } from "./paint/scene";
import { paintSnag } from "./paint/snag";
import { paintBrush, paintCorners, paintLead, paintPieces } from "./paint/tools";
import { paintTouch, type StillOf } from "./paint/touch";
import { Pieces } from "./pieces";
import { Still } from "./still";
import { Under } from "./under";
import type { PictureViewer } from "./viewer";

/** Paints what lies over the picture of one frame: masks, flags, the brush, what is being drawn. It is told what there
 * is, and paints once a frame of the screen however often it is asked to. */
export class Painter {
  canvas: HTMLCanvasElement | null = null;
  viewer: PictureViewer | null = null;
  readonly drawing: Drawing = {
    shape: null,
    laid: null,
    corners: [],
    pieces: new Set(),
    pointer: null,
    ended: null,
  };
  readonly pieces: Pieces;
  readonly under: Under;
  readonly firstLooks: FirstLooks;
  private hatch = new Hatch();
  private still = new Still();
  private overview = new Overview(() => this.redraw());
  private far = new FarSource(() => this.redraw());
  private queued = 0;

  constructor(
    public desk: Desk,
    private masks: Masks,
  ) {
    const { id, width, height } = desk.frame;
    this.pieces = new Pieces({ id, width, height }, () => this.redraw());
    this.under = new Under(id, () => this.redraw());
    this.firstLooks = new FirstLooks(id, () => this.redraw());
  }

  /** The picture as the screen shows it at a point; drawn elsewhere where that is out of view. */
  sourceStill: StillOf = (point) => {
    const { canvas, viewer } = this;
    if (!canvas || !viewer) return null;
    const { at } = this.placed(viewer);
    if (inView(point, at, canvas)) return { picture: viewer.looks.still(), at };
    const state = useDeskState.getState();
    return this.far.still(this.desk.frame, lookNow(this.desk, state), point, state.size);
  };

  redraw = () => {
    cancelAnimationFrame(this.queued);
    this.queued = requestAnimationFrame(() => this.paint());
  };

  private placed(viewer: PictureViewer) {
    const density = window.devicePixelRatio;
    const { x, y, scale } = viewer.camera.placing();
    return { density, at: { x: x * density, y: y * density, scale: scale * density } };
  }

  private paint() {
    const { canvas, viewer, desk, masks, drawing, firstLooks } = this;
    const ctx = canvas?.getContext("2d", COLOURS);
    if (!canvas || !ctx || !viewer?.osd.viewport || !fitted(canvas)) return;
    ctx.clearRect(0, 0, canvas.width, canvas.height);
    const scene: Scene = { ctx, ...this.placed(viewer), desk, masks, drawing, firstLooks };
    if (useDeskState.getState().maskAlone) paintAlone(scene, desk.frame);
    else paintMarks(scene, this.hatch, this.still);
    paintFirstLooks(scene);
    paintFinds(scene);
    paintGhosts(scene, this.under.path);
    paintPieces(scene, this.pieces);
    paintLead(scene);
    paintCorners(scene);
    paintFlags(scene);
    paintLine(scene);
    this.overview.paint(scene);
    paintSnag(scene);
    paintTouch(scene, this.sourceStill);
    paintBrush(scene);
  }
}

/** Make a canvas as fine as the screen; false where there is nothing of it. */
function fitted(canvas: HTMLCanvasElement): boolean {
  const density = window.devicePixelRatio;
  const wide = Math.round(canvas.clientWidth * density);
  const tall = Math.round(canvas.clientHeight * density);
  if (canvas.width !== wide || canvas.height !== tall) {
    canvas.width = wide;
    canvas.height = tall;
  }
  return wide > 0 && tall > 0;
}
