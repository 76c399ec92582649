import { describe, expect, it, vi } from "vitest";
import { api, type Standing } from "../api/client";
import { aFrame, aShoot } from "../testing/made";
import { shown } from "../testing/shown";
import { Chosen } from "./Chosen";
import { ShootName } from "./ShootName";
import { Uploads } from "./Uploads";
import type { Upload } from "./upload";

const answered = (data: unknown) => ({ data, response: new Response() }) as never;

describe("a shoot's name", () => {
  it("is deleted after a second click only", async () => {
    const gone = vi.spyOn(api, "DELETE").mockResolvedValue(answered(undefined));
    const { hand, button } = shown(<ShootName shoot={aShoot()} />);
    await hand.click(button("Delete"));
    await hand.click(button("Keep it"));
    await hand.click(button("Delete"));
    expect(gone).not.toHaveBeenCalled();
    await hand.click(button("Delete it, with one picture"));
    expect(gone).toHaveBeenCalledOnce();
  });

  it("is changed by Enter, not by Escape nor to nothing", async () => {
    const renamed = vi.spyOn(api, "PATCH").mockResolvedValue(answered({}));
    const { hand, button, getByRole, findByRole } = shown(<ShootName shoot={aShoot()} />);
    const type = async (keys: string) => {
      await hand.click(button("Rename"));
      await hand.clear(getByRole("textbox"));
      await hand.type(getByRole("textbox"), keys);
      await findByRole("heading");
    };
    await type("   {Enter}");
    await type("Walls{Escape}");
    expect(renamed).not.toHaveBeenCalled();
    await type("Walls{Enter}");
    expect(renamed.mock.calls[0]?.[1]).toMatchObject({ body: { name: "Walls" } });
  });
});

describe("files that are added", () => {
  const file = (id: number, state: Upload["state"], more: Partial<Upload> = {}): Upload => ({
    id,
    name: `${id}.tif`,
    size: 1000,
    share: 0.25,
    state,
    ...more,
  });
  const lines = (uploads: Upload[], forget = () => {}) =>
    shown(<Uploads uploads={uploads} since={0} forget={forget} />);

  it("are told one by one while they are under way, six at most, and all that failed", () => {
    const uploads = [
      ...Array.from({ length: 9 }, (_, k) => file(k, k ? "waiting" : "sending")),
      file(20, "failed", { error: "No picture." }),
    ];
    const { getAllByRole, queryByRole, text } = lines(uploads);
    expect(getAllByRole("listitem")).toHaveLength(7);
    expect(text()).toContain("✕ No picture.");
    expect(text()).toContain("sending 25 %");
    expect(queryByRole("button")).toBeNull();
  });

  it("say which were there already, once all are through, and can be put away", async () => {
    const away = vi.fn();
    const { hand, text, button } = lines([file(1, "there"), file(2, "done")], away);
    expect(text()).toContain("1.tif is already in this shoot.");
    await hand.click(button("Hide this list"));
    expect(away).toHaveBeenCalledOnce();
    expect(lines([file(1, "there"), file(2, "there")]).text()).toContain("2 pictures are");
  });
});

describe("frames that are chosen", () => {
  const standing = (marked: number, sweeps: number) => ({ marked, sweeps, state: "marked" }) as Standing;
  const bar = (standings: [number, Standing][]) => {
    const frames = [aFrame(), aFrame({ id: 2, name: "roof-0002.tif" })];
    return shown(
      <Chosen shoot={aShoot({ frames })} standings={new Map(standings)} chosen={[1, 2]} choose={() => {}} />,
    );
  };

  it("are filled where something is marked, and carried over from the first that has anything", () => {
    const { text, button } = bar([
      [1, standing(0, 0)],
      [2, standing(3, 4)],
    ]);
    expect(text()).toContain("Fill 3");
    expect(text()).toContain("Carry over from roof-0002");
    expect(button(/^Fill/).hasAttribute("disabled")).toBe(false);
  });

  it("have nothing to fill or carry where nothing is marked", () => {
    const { button } = bar([]);
    expect(button(/^Fill/).hasAttribute("disabled")).toBe(true);
    expect(button("Carry over").hasAttribute("disabled")).toBe(true);
  });

  it("say what became of a fill, and why not", async () => {
    const post = vi.spyOn(api, "POST").mockResolvedValue(answered({ asked: 3, refused: [] }));
    const { hand, button, findByRole } = bar([[2, standing(3, 4)]]);
    await hand.click(button(/^Fill/));
    expect((await findByRole("status")).textContent).toBe("3 fills wait in the queue.");
    post.mockResolvedValue(answered({ asked: 1, refused: ["roof-0002: nothing is marked."] }));
    await hand.click(button(/^Fill/));
    expect((await findByRole("alert")).textContent).toBe("roof-0002: nothing is marked.");
  });
});
