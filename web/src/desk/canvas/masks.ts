import type { QueryClient } from "@tanstack/react-query";
import { api, ask, type Box, type Desk, type Fit } from "../../api/client";
import { type MaskPath, maskPath } from "./shapes";

/** The outlines of a frame's masks as the server knows them. The last one known is shown until the next is there. */
export class Masks {
  private last = new Map<string, MaskPath>();
  private tried = new Map<string, MaskPath>();
  private asked = 0;
  /** Outlines of what is proposed, drawn as ghosts. */
  ghosts: MaskPath[] = [];
  /** What the scouts found, while its sheet is open. */
  finds: FindPath[] = [];
  onChange: () => void = () => undefined;

  constructor(
    private frame: number,
    private queries: QueryClient,
  ) {}

  /** The mask of a sweep, or of the guard. */
  of(sweep: string): MaskPath | undefined {
    return this.tried.get(sweep) ?? this.last.get(sweep);
  }

  /** Keep the outlines that an edit was answered with. */
  keep({ rings }: Desk): void {
    for (const [digest, found] of Object.entries(rings ?? {}))
      this.queries.setQueryData(["rings", this.frame, digest], maskPath(found));
  }

  /** Fetch whatever a state of the desk shows that is not here yet. */
  async ensure(desk: Desk): Promise<void> {
    const wanted = desk.sweeps
      .filter((sweep) => !sweep.takes.length)
      .map((sweep) => ({ id: sweep.id, digest: sweep.mask, guard: false }));
    if (desk.guard) wanted.push({ id: GUARD, digest: `guard ${desk.guard}`, guard: true });
    else this.last.delete(GUARD);
    await Promise.all(wanted.map((each) => this.one(each, desk.revision)));
  }

  private async one(each: { id: string; digest: string; guard: boolean }, revision: number) {
    try {
      const path = await this.queries.fetchQuery({
        queryKey: ["rings", this.frame, each.digest],
        // A mask of one digest never changes.
        staleTime: Number.POSITIVE_INFINITY,
        queryFn: async () => maskPath((await this.rings(each, revision)).rings),
      });
      this.last.set(each.id, path);
    } catch {
      // The next state of the desk asks again.
    }
  }

  private rings({ id, guard }: { id: string; guard: boolean }, revision: number) {
    const query = { revision };
    if (guard)
      return ask(
        api.GET("/api/frames/{frame_id}/guard/rings", { params: { path: { frame_id: this.frame }, query } }),
      );
    return ask(
      api.GET("/api/frames/{frame_id}/sweeps/{sweep_id}/rings", {
        params: { path: { frame_id: this.frame, sweep_id: id }, query },
      }),
    );
  }

  /** Show a mask as it would be with another fit; null shows it as it is. True when it is the latest asked for. */
  async tryFit(sweep: string, revision: number, fit: Fit | null): Promise<boolean> {
    const turn = ++this.asked;
    if (!fit) {
      this.tried.delete(sweep);
      this.onChange();
      return true;
    }
    const { rings } = await ask(
      api.GET("/api/frames/{frame_id}/sweeps/{sweep_id}/rings", {
        params: { path: { frame_id: this.frame, sweep_id: sweep }, query: { revision, ...fit } },
      }),
    );
    if (turn !== this.asked) return false;
    this.tried.set(sweep, maskPath(rings));
    this.onChange();
    return true;
  }
}

export type FindPath = {
  id: number;
  label: string;
  goes: boolean;
  box: Box;
  path: MaskPath;
  also: MaskPath[];
};
export const GUARD = "guard";
