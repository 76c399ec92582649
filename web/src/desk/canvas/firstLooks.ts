import { api, ask, type Box, type Desk } from "../../api/client";
import { isBusy } from "../reading/sweeps";

/** How many are asked for at once: with more areas than that the first takes are soon there. */
const AT_ONCE = 4;
type Rough = { sweep: string; run: number; box: Box; picture: CanvasImageSource | null };

/** Roughly what fills will show, from when they are asked for until their first takes are in the picture. */
export class FirstLooks {
  private known = new Map<string, Rough>();

  constructor(
    private frame: number,
    private onChange: () => void,
  ) {}

  /** Those that there are to be seen. */
  get seen(): Rough[] {
    return [...this.known.values()].filter((each) => each.picture);
  }

  /** The desk has changed. isShown: whether the picture shows it as it is now, or still loads what is new. */
  follow(desk: Desk, isShown: boolean) {
    const coming = desk.sweeps.filter((sweep) => isBusy(sweep) && !sweep.takes.length);
    for (const [id] of this.known) {
      const sweep = desk.sweeps.find((each) => each.id === id);
      const stays = coming.some((each) => each.id === id) || (sweep?.takes.length && !isShown);
      if (!stays) this.known.delete(id);
    }
    for (const sweep of coming.slice(0, AT_ONCE)) {
      if (sweep.run && this.known.get(sweep.id)?.run !== sweep.run.id) this.ask(sweep.id, sweep.run.id);
    }
  }

  private async ask(sweep: string, run: number) {
    const rough: Rough = { sweep, run, box: { x: 0, y: 0, width: 0, height: 0 }, picture: null };
    this.known.set(sweep, rough);
    const where = { params: { path: { frame_id: this.frame, sweep_id: sweep } } };
    // It is a courtesy: without it one waits for the take.
    const found = await ask(api.GET("/api/frames/{frame_id}/sweeps/{sweep_id}/first-look", where)).catch(
      () => null,
    );
    if (!found) return;
    const picture = new Image();
    picture.onload = () => {
      if (this.known.get(sweep) !== rough) return;
      rough.box = found.box;
      rough.picture = picture;
      this.onChange();
    };
    picture.src = `data:image/png;base64,${found.png}`;
  }
}
