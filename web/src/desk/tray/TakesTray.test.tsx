import { describe, expect, it } from "vitest";
import { aDesk, aSweep, aTake } from "../../testing/made";
import { actions, shown } from "../../testing/shown";
import { useDeskState } from "../state/state";
import { TakesTray } from "./TakesTray";

const tray = (desk = aDesk()) => <TakesTray desk={desk} actions={actions} viewer={null} />;
const filled = aSweep({ takes: [aTake(1), aTake(2)], best: 2 });
const at = (desk: ReturnType<typeof aDesk>, selected: string | null = "a") => {
  useDeskState.setState({ selected });
  return shown(tray(desk), { desk });
};

describe("the tray of takes", () => {
  it("says what comes next as long as there are none", () => {
    expect(at(aDesk(), null).text()).toContain("appear here");
    expect(at(aDesk({ sweeps: [filled] }), null).text()).toContain("Choose a sweep");
    expect(at(aDesk({ sweeps: [aSweep()] })).text()).toContain("Left rod is marked");
  });

  it("looks at the best take first, and stays there if another becomes the best", () => {
    const { becomes } = at(aDesk({ sweeps: [filled] }));
    expect(useDeskState.getState().viewed).toBe(2);
    becomes(tray(aDesk({ sweeps: [{ ...filled, best: 1 }] })));
    expect(useDeskState.getState().viewed).toBe(2);
  });

  it("calls its first button by what it would do", () => {
    const { becomes, button } = at(aDesk({ sweeps: [filled] }));
    expect(button(/Pick this take/)).toBeDefined();
    useDeskState.setState({ viewed: 0 });
    becomes(tray(aDesk({ sweeps: [filled] })));
    expect(button(/Leave as shot/)).toBeDefined();
    useDeskState.setState({ viewed: 2 });
    becomes(tray(aDesk({ sweeps: [{ ...filled, pick: 2 }] })));
    expect(button(/Picked/)).toBeDefined();
  });
});
