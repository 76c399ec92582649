import { describe, expect, it } from "vitest";
import { aDesk, aSweep, aTake } from "../../testing/made";
import { actions, asked, shown } from "../../testing/shown";
import { MaskActions } from "./MaskActions";
import { Placing } from "./Placing";
import { TouchLine } from "./TouchLine";

describe("what is done with a mark", () => {
  const sweeps = [
    aSweep({ id: "a", number: 1 }),
    aSweep({ id: "b", number: 2, takes: [aTake(1)] }),
    aSweep({ id: "c", number: 3, name: "Cable" }),
  ];
  const at = (k: number) => {
    const sweep = sweeps[k] ?? aSweep();
    return shown(<MaskActions sweep={sweep} desk={aDesk({ sweeps })} actions={actions} />);
  };

  it("joins it with the next one that is not filled, or the one before", async () => {
    const { hand, button } = at(0);
    await hand.click(button("Join with 3"));
    expect(asked).toEqual([["join", [sweeps[0], sweeps[2]]]]);
    expect(at(2).queryByRole("button", { name: "Join with 1" })).not.toBeNull();
  });

  it("has nothing to clear where nothing is drawn", () => {
    const empty = aSweep({ shapes: 0 });
    const { button } = shown(
      <MaskActions sweep={empty} desk={aDesk({ sweeps: [empty] })} actions={actions} />,
    );
    expect(button("Clear").hasAttribute("disabled")).toBe(true);
  });
});

describe("where a sweep lies", () => {
  it("goes neither below the first nor above the last, and moves by what was typed", async () => {
    const sweeps = [aSweep({ id: "a", number: 1 }), aSweep({ id: "b", number: 2 })];
    const [first = aSweep()] = sweeps;
    const { hand, button, getByLabelText } = shown(
      <Placing sweep={first} desk={aDesk({ sweeps })} actions={actions} />,
    );
    expect(button("Earlier").hasAttribute("disabled")).toBe(true);
    expect(button("Move").hasAttribute("disabled")).toBe(true);
    await hand.click(button("Later"));
    await hand.clear(getByLabelText("Right in px"));
    await hand.type(getByLabelText("Right in px"), "-12{Enter}");
    await hand.click(button("Move"));
    expect(asked).toEqual([
      ["reorder", first, 1],
      ["move", first, -12, 0],
    ]);
    expect(button("Move").hasAttribute("disabled")).toBe(true);
  });
});

describe("touch-ups that lie on each other", () => {
  const touch = (id: string, brush: string, on = true) =>
    ({ id, brush, shown: on, over: 0 }) as unknown as Parameters<typeof TouchLine>[0]["touches"][number];

  it("are one line, of which the last or all go", async () => {
    const touches = [touch("a", "heal"), touch("b", "clone"), touch("c", "heal")];
    const { hand, text, button } = shown(<TouchLine touches={touches} actions={actions} />);
    expect(text()).toContain("2 heal, 1 clone");
    await hand.click(button("Delete the last touch-up"));
    await hand.click(button("Delete touch-ups"));
    await hand.click(button("Switch off touch-ups"));
    expect(asked).toEqual([
      ["deleteTouches", ["c"]],
      ["deleteTouches", ["a", "b", "c"]],
      ["showTouches", ["a", "b", "c"], false],
    ]);
  });
});
