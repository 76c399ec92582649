import { fireEvent } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { aDesk, aSweep, aTake } from "../../testing/made";
import { actions, asked, shown } from "../../testing/shown";
import { useDeskState } from "../state/state";
import { TakeCard } from "./TakeCard";

const part = (method: "weave" | "close") =>
  ({ ...aTake(1).parts[0], method }) as ReturnType<typeof aTake>["parts"][number];
const takes = [
  aTake(4),
  aTake(6, { batch: 2, method: "auto", parts: [part("weave"), part("close"), part("weave")] }),
];
const sweep = aSweep({ takes, best: 6 });
const card = (picks: number, take = takes[1] ?? aTake(0)) => (
  <TakeCard desk={aDesk({ picks })} sweep={sweep} take={take} stands={4} actions={actions} />
);

describe("the card of a take", () => {
  it("says of which fill it is once a later one begins, and what it was put together of", () => {
    expect(shown(card(0)).text()).toContain("fill 2 · weave + close");
    expect(shown(card(0, takes[0])).text()).not.toContain("fill");
    expect(shown(card(0)).button("Take 2").dataset.tip).toContain("Fill 2 of 2");
  });

  it("says by whose measure it is the best", () => {
    expect(shown(card(0)).text()).toContain("best");
    expect(shown(card(12)).text()).toContain("best by 12 picks");
    expect(shown(card(12, takes[0])).text()).not.toContain("best");
  });

  it("says so where its picture cannot be loaded, instead of a broken one", () => {
    const { text, container } = shown(card(0));
    const picture = container.querySelector("img");
    expect(text()).not.toContain("not available yet");
    if (picture) fireEvent.error(picture);
    expect(text()).toContain("not available yet");
    expect(container.querySelector("img")).toBeNull();
  });

  it("is looked at by a click, and held dear by another", async () => {
    const { hand, button } = shown(card(0));
    await hand.click(button("Favourite 2"));
    expect(asked).toEqual([["favour", 6, true]]);
    await hand.click(button("Take 2"));
    expect(useDeskState.getState().viewed).toBe(6);
  });
});
