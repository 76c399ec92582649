import { within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Sweep } from "../../api/client";
import { aDesk, aSnag, aSweep, aTake } from "../../testing/made";
import { actions, asked, shown } from "../../testing/shown";
import type { PictureViewer } from "../canvas/viewer";
import { useDeskState } from "../state/state";
import { SecondLook } from "./SecondLook";

const visited: unknown[] = [];
const viewer = { camera: { visit: (box: unknown) => visited.push(box) } } as unknown as PictureViewer;
const look = (more: Partial<Sweep>) => {
  const sweep = aSweep({ takes: [aTake(1)], best: 1, ...more });
  const desk = aDesk({ sweeps: [sweep] });
  useDeskState.setState({ selected: "a", delivery: 1000 });
  return shown(<SecondLook desk={desk} sweep={sweep} actions={actions} viewer={viewer} />, { desk });
};

describe("the second look", () => {
  it("lists what will be seen at delivery size, and folds away what will not", () => {
    const { getByRole, getAllByTestId } = look({
      snags: [aSnag(1), aSnag(2, { kind: "softness", visible: 1 })],
    });
    const folded = getByRole("group");
    expect(within(folded).getByText("1 more not visible at delivery size")).toBeDefined();
    expect(within(folded).getAllByTestId("snag")).toHaveLength(1);
    expect(getAllByTestId("snag")).toHaveLength(2);
  });

  it("goes to a fault, and then says what can be done about it", async () => {
    const { hand, getByText, queryByText } = look({ snags: [aSnag(1)] });
    expect(queryByText("Fill this spot")).toBeNull();
    await hand.click(getByText("broken line"));
    expect(visited).toEqual([aSnag(1).box]);
    await hand.click(getByText("Fill this spot"));
    expect(asked).toEqual([["mend", aSnag(1)]]);
  });

  it("says of a fault that only grading raises how it shows", async () => {
    const graded = aSnag(1, { kind: "step in tone", grading: "brightened", strength: 0.9 });
    const { hand, getByText, getAllByTestId, text } = look({
      snags: [graded, aSnag(2, { kind: "step in tone" })],
    });
    expect(getAllByTestId("snag")).toHaveLength(2);
    await hand.click(getByText("shows when brightened by two stops"));
    expect(text()).toContain("It shows when brightened by two stops.");
  });

  it("says that nothing was found only if it was looked for", () => {
    expect(look({}).text()).toContain("No snags found.");
    expect(look({ takes: [aTake(1, { reviewed: false })] }).text()).toContain("Not reviewed yet.");
  });

  it("tells a fault that a mend did not help from others", () => {
    const takes = [aTake(1), aTake(2, { method: "mend" })];
    const snags = [aSnag(1), aSnag(1, { id: 2, take: 2 })];
    expect(look({ takes, best: 2, snags }).text()).toContain("mended, still visible");
  });
});
