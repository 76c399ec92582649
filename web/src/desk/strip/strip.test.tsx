import { describe, expect, it } from "vitest";
import { aDesk, aSister, aSweep } from "../../testing/made";
import { actions, asked, shown } from "../../testing/shown";
import { useDeskState } from "../state/state";
import { Strip } from "./Strip";
import { StripFrame } from "./StripFrame";

const landed = (verdict: "landed" | "not there", sweep = "a") =>
  ({ sweep, verdict, made: verdict === "landed" ? "x" : null, box: null }) as ReturnType<
    typeof aSister
  >["landed"][number];

describe("the strip", () => {
  const series = [
    aSister(1),
    aSister(2, { behind: ["a"] }),
    aSister(3, { behind: ["a", "b"], marked: ["x", "y"] }),
  ];
  const strip = (from: number, sisters: number[] = [], selected: string | null = null) => {
    useDeskState.setState({ strip: from, sisters, selected });
    return shown(<Strip />, { desk: aDesk({ sweeps: [aSweep(), aSweep({ id: "b" })] }), series });
  };

  it("says what goes where before it goes", () => {
    expect(strip(1).text()).toContain("All 2 sweeps onto all 2 other frames");
    expect(strip(1, [3]).text()).toContain("onto 1 chosen frames");
    expect(strip(1, [], "a").text()).toContain("Left rod onto");
  });

  it("brings along what has changed since, once for each sweep", async () => {
    const { hand, button } = strip(1);
    await hand.click(button("Update 2 frames"));
    expect(asked).toEqual([["carry", ["a", "b"], [2, 3]]]);
  });

  it("of another frame leads back to this one", async () => {
    const { hand, text, button, queryByRole } = strip(2);
    expect(text()).toContain("Carried over from roof-0002.tif");
    expect(queryByRole("button", { name: /Update/ })).toBeNull();
    await hand.click(button("From this frame"));
    expect(useDeskState.getState().strip).toBe(1);
  });

  it("counts what waits to be filled", () => {
    expect(strip(1).text()).toContain("Fill all 2");
  });
});

describe("a frame of the strip", () => {
  const frame = (more: Parameters<typeof aSister>[1]) => {
    useDeskState.setState({ strip: 1 });
    const room = {
      desk: aDesk(),
      series: undefined,
      scouts: undefined,
      actions,
      viewer: null,
      go: () => {},
      open: () => {},
    };
    return shown(<StripFrame sister={aSister(2, more)} room={room} />);
  };

  it("says what became of it, and looks near by for what is not there", async () => {
    const { hand, text, button } = frame({ landed: [landed("landed"), landed("not there", "b")] });
    expect(text()).toContain("1 landed, 1 not there");
    await hand.click(button("search nearby"));
    expect(asked).toEqual([["carry", ["b"], [2], { wide: true }]]);
  });

  it("of another place is nothing that went wrong", () => {
    const { text } = frame({
      carrying: "failed",
      elsewhere: true,
      error: "roof-0002 does not show the same place as roof-0001.",
    });
    expect(text()).toContain("another place");
  });
});
