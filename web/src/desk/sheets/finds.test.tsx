import { describe, expect, it, vi } from "vitest";
import { api, type Scouts } from "../../api/client";
import { aDesk, aFind } from "../../testing/made";
import { actions, asked, shown } from "../../testing/shown";
import { useDeskState } from "../state/state";
import { FindLine } from "./FindLine";
import { FindsSheet } from "./FindsSheet";
import { RemoveThese } from "./RemoveThese";

describe("a find", () => {
  const find = aFind(3, {
    also: { shadow: [], mirror: [] },
    with_also: ["shadow"],
    frames: 4,
    subject: true,
  });

  it("says more once it is chosen", async () => {
    const line = (chosen: boolean) => (
      <FindLine find={find} actions={actions} chosen={chosen} choose={() => {}} />
    );
    const { hand, text, becomes, button } = shown(line(false));
    expect(text()).toBe("Speck 3 · subject? · dust, in 4 frames");
    becomes(line(true));
    expect(text()).toContain("Dark and round. Paint to add to it or to take away from it.");
    await hand.click(button("Its mirror image"));
    await hand.click(button("Its shadow"));
    await hand.click(button("Always: speck"));
    expect(asked).toEqual([
      ["changeFind", 3, { also: ["shadow", "mirror"] }],
      ["changeFind", 3, { also: [] }],
      ["changeFind", 3, { always: true }],
    ]);
  });
});

describe("the sheet of finds", () => {
  const scouts = {
    scouts: [
      { kind: "people", state: "done", progress: 1, looked_for: "people from 30 px on", error: null },
      { kind: "specks", state: "done", progress: 1, looked_for: "specks", error: null },
      {
        kind: "wires",
        state: "failed",
        progress: 0,
        looked_for: "wires",
        error: "The picture is too small.",
      },
    ],
    finds: [aFind(1, { goes: true, frames: 3 }), aFind(2)],
  } as unknown as Scouts;
  const sheet = () => {
    vi.spyOn(api, "GET").mockResolvedValue({ data: scouts, response: new Response() } as never);
    return shown(<FindsSheet desk={aDesk()} actions={actions} viewer={null} />, { scouts });
  };

  it("says what is still being looked for, beside the button that keeps what there is", async () => {
    const looking = { ...scouts, scouts: [{ ...scouts.scouts[0], kind: "wires", state: "running" }] };
    vi.spyOn(api, "GET").mockResolvedValue({ data: looking, response: new Response() } as never);
    const { findByText } = shown(<FindsSheet desk={aDesk()} actions={actions} viewer={null} />, {
      scouts: looking as Scouts,
    });
    await findByText(/Still searching: Wires/);
  });

  it("says what was found, what was looked for in vain, and what went wrong", async () => {
    const { findByRole, text } = sheet();
    expect((await findByRole("alert")).textContent).toBe("The picture is too small.");
    expect(text()).toContain("Searched for people from 30 px on.");
    expect(text()).toContain("2 found");
  });

  it("ticks all of a kind at once, and keeps those that are ticked", async () => {
    const { hand, findByLabelText, button } = sheet();
    await hand.click(await findByLabelText("All of specks"));
    expect(asked).toEqual([
      ["changeFind", 1, { goes: true }],
      ["changeFind", 2, { goes: true }],
    ]);
    expect(button(/^Keep 1/)).toBeDefined();
  });

  it("offers dust of all frames only where dust is ticked", async () => {
    const { hand, findByLabelText } = sheet();
    await hand.click(await findByLabelText("Remove this dust in all frames"));
    expect(useDeskState.getState().everywhere).toBe(true);
  });
});

describe("removing one kind in one go", () => {
  const removing = (...finds: ReturnType<typeof aFind>[]) =>
    shown(<RemoveThese kind="specks" scouts={{ scouts: [], finds } as Scouts} actions={actions} />);

  it("asks one question where something belongs to them", async () => {
    const { hand, text, button } = removing(aFind(1, { goes: true, also: { shadow: [] } }), aFind(2));
    await hand.click(button("Remove it"));
    expect(text()).toContain("1 has a shadow or reflection.");
    await hand.click(button("Remove with them"));
    expect(asked).toEqual([["keep", [1], { fill: true, belongings: true }]]);
  });

  it("goes ahead where nothing does, and is not there for nothing", async () => {
    const { hand, button } = removing(aFind(1), aFind(2));
    await hand.click(button("Remove these 2"));
    expect(asked).toEqual([["keep", [1, 2], { fill: true, belongings: false }]]);
    expect(removing().text()).toBe("");
  });
});
