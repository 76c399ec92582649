import { QueryClient } from "@tanstack/react-query";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { api, type Desk, type Drawable } from "../../api/client";
import { deskKey } from "../../api/queries";
import { useDeskState } from "../state/state";
import { FrameDoing } from "./frame";
import { marking } from "./marking";

const shape = (x: number) =>
  ({ kind: "stroke", points: [[x, 0]], size: 8, erase: false }) as unknown as Drawable;

describe("marks drawn faster than the server answers", () => {
  /** What was sent: to which sweep, or as a new one. */
  let sent: string[];
  let mark: ReturnType<typeof marking>["mark"];
  let news: number;
  let addresses: string[];

  beforeEach(() => {
    vi.stubGlobal("localStorage", { getItem: () => null, setItem: () => undefined });
    useDeskState.getState().set({ cling: false });
    sent = [];
    addresses = [];
    news = 1;
    const desk = (): Desk => ({ news: ++news, finds: "none", revision: news, sweeps: [] }) as unknown as Desk;
    let made = 0;
    vi.spyOn(api, "POST").mockImplementation((async (
      address: string,
      how: { params: { path: { sweep_id?: string } } },
    ) => {
      await new Promise<void>((resolve) => setTimeout(resolve, 5));
      const added = how.params.path.sweep_id;
      addresses.push(address);
      sent.push(added ?? "new");
      const data = added ? desk() : { sweep_id: `s${++made}`, desk: desk() };
      return { data, response: new Response(null, { status: 200 }) };
    }) as unknown as typeof api.POST);
    const queries = new QueryClient({ defaultOptions: { mutations: { networkMode: "always" } } });
    queries.setQueryData(deskKey(3), desk());
    const doing = new FrameDoing(3, queries);
    vi.spyOn(doing.masks, "ensure").mockResolvedValue(undefined as never);
    useDeskState.getState().set({ pending: [], problem: null });
    useDeskState.getState().select(null);
    mark = marking(doing).mark;
  });

  it("belong together until another is begun", async () => {
    const first = [mark(shape(1)), mark(shape(2))];
    useDeskState.getState().select(null);
    const then = [mark(shape(3)), mark(shape(4))];
    await Promise.all([...first, ...then]);
    expect(sent).toEqual(["new", "s1", "new", "s2"]);
    expect(useDeskState.getState().selected).toBe("s2");
  });

  it("cling if Cling was on when they were drawn, not when they are sent", async () => {
    const first = mark(shape(1));
    useDeskState.getState().set({ cling: true });
    const second = mark(shape(2));
    useDeskState.getState().set({ cling: false });
    await Promise.all([first, second]);
    expect(addresses).toEqual(["/api/frames/{frame_id}/sweeps", "/api/frames/{frame_id}/cling"]);
  });
});
