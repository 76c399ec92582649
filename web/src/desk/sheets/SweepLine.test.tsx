import { describe, expect, it } from "vitest";
import type { Sweep } from "../../api/client";
import { aDesk, aSnag, aSweep, aTake } from "../../testing/made";
import { actions, asked, shown } from "../../testing/shown";
import { useDeskState } from "../state/state";
import { SweepLine } from "./SweepLine";

const line = (more: Partial<Sweep>, chosen = true) => {
  const sweep = aSweep(more);
  const desk = aDesk({ sweeps: [sweep] });
  useDeskState.setState({ selected: "a" });
  const clicks: boolean[] = [];
  const found = shown(
    <SweepLine
      sweep={sweep}
      desk={desk}
      actions={actions}
      chosen={chosen}
      also={false}
      choose={(more) => clicks.push(more)}
    />,
    { desk },
  );
  return { ...found, sweep, clicks };
};

describe("a line of the job sheet", () => {
  it("says how far its sweep is, what is doubtful and what was found", () => {
    const carried = { name: "roof-0002.tif", confidence: 0.612, doubtful: true } as Sweep["carried"];
    const takes = [aTake(1)];
    const { text } = line({ takes, best: 1, carried, snags: [aSnag(1), aSnag(2)] });
    expect(text()).toContain("choose · 1 take · doubtful · 2 snags");
    expect(text()).toContain("Carried over from roof-0002, 61 % confidence");
  });

  it("shows what can be done only where it is chosen", async () => {
    const { hand, queryByText, button, clicks } = line({}, false);
    expect(queryByText("Rename")).toBeNull();
    await hand.keyboard("{Shift>}");
    await hand.click(button(/Left rod/));
    expect(clicks).toEqual([true]);
  });

  it("takes another name, and asks for nothing if it is the same", async () => {
    const { hand, button, getByRole, sweep } = line({});
    await hand.click(button("Rename Left rod"));
    await hand.type(getByRole("textbox"), "{Enter}");
    expect(asked).toEqual([]);
    await hand.click(button("Rename Left rod"));
    await hand.clear(getByRole("textbox"));
    await hand.type(getByRole("textbox"), "  The rod {Enter}");
    expect(asked).toEqual([["change", sweep, { name: "The rod" }]]);
  });

  it("asks for mask settings before a fill and not after it", () => {
    expect(line({}).text()).toContain("Margin");
    expect(line({ takes: [aTake(1)], best: 1 }).text()).not.toContain("Margin");
  });

  it("asks for words where they are heeded", () => {
    expect(line({ method: "weave" }).text()).toContain("Hints");
    expect(line({ method: "borrow" }).text()).not.toContain("Hints");
  });
});
