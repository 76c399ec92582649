import { act, fireEvent } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { aDesk, aSweep, aTake } from "../../../testing/made";
import { asked, shown } from "../../../testing/shown";
import { useDeskState } from "../../state/state";
import { Do } from "./Do";

describe("a button of the table", () => {
  it("has its words and its key, and can be pressed when its command can be done", async () => {
    const sweep = aSweep({ takes: [aTake(3), aTake(4)], best: 3 });
    const { hand, button } = shown(<Do id="pick" />, { desk: aDesk({ sweeps: [sweep] }) });
    expect(button("Pick this take").dataset.tip).toBe("Use the take that is shown. Key: Enter");
    expect(button("Pick this take").hasAttribute("disabled")).toBe(true);
    act(() => useDeskState.setState({ selected: "a", viewed: 4 }));
    await hand.click(button("Pick this take"));
    expect(asked).toEqual([["pick", sweep, 4]]);
  });

  it("is on while what it switches is", async () => {
    const { hand, button } = shown(<Do id="masks" />);
    expect(button("Masks").getAttribute("aria-pressed")).toBe("true");
    await hand.click(button("Masks"));
    expect(button("Masks").getAttribute("aria-pressed")).toBe("false");
  });

  it("works while it is held, where its key does", () => {
    const sweep = aSweep({ takes: [aTake(3)] });
    useDeskState.setState({ selected: "a" });
    const { button } = shown(<Do id="before" />, { desk: aDesk({ sweeps: [sweep] }) });
    fireEvent.pointerDown(button("Before"));
    expect(useDeskState.getState().before).toBe(true);
    fireEvent.pointerLeave(button("Before"));
    expect(useDeskState.getState().before).toBe(false);
  });

  it("says what undo would take back", () => {
    expect(
      shown(<Do id="undo" />, { desk: aDesk({ undo: "Rod: take 1 picked" }) }).button("Undo").dataset.tip,
    ).toContain("Undo: Rod: take 1 picked");
    expect(shown(<Do id="undo" />).button("Undo").dataset.tip).toContain("Nothing to undo");
  });
});
