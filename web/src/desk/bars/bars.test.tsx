import { describe, expect, it } from "vitest";
import type { Quote, Sweep } from "../../api/client";
import { useReady } from "../../api/ready";
import { aDesk, aSweep, aTake } from "../../testing/made";
import { actions, asked, shown } from "../../testing/shown";
import { useDeskState } from "../state/state";
import { GuideBar } from "./GuideBar";
import { MarkingBar } from "./MarkingBar";
import { OfferBar } from "./OfferBar";
import { ReadyElsewhere } from "./ReadyElsewhere";
import { StepBar } from "./StepBar";

const quote = (more: Partial<Quote>) =>
  ({
    model: "Painter",
    service: true,
    credits: 6,
    seconds: 40,
    left: 12.5,
    budget_left: null,
    why: "",
    problem: null,
    remedy: null,
    ...more,
  }) as Quote;

describe("what a fill costs", () => {
  const offered = (more: Partial<Quote>, sweep: Partial<Sweep> = {}) => {
    const desk = aDesk({ sweeps: [aSweep({ method: "model", ...sweep })] });
    const offer = { sweep: "a", how: {}, quote: quote(more) };
    useDeskState.setState({ selected: "a", offer });
    return shown(<OfferBar desk={desk} offer={offer} actions={actions} />, { desk });
  };

  it("is said with what is left, and agreed to", async () => {
    const { hand, text, button } = offered({ budget_left: 3 });
    expect(text()).toContain("Left rod by Painter: 6 credits, about 40 s.");
    expect(text()).toContain("12.5 left at the service. 3 left in this shoot's budget.");
    await hand.click(button(/Yes, 6 credits/));
    expect(asked[0]?.[0]).toBe("agree");
  });

  it("cannot be agreed to where something is in the way, and says where to put it right", () => {
    const { text, queryByRole } = offered({ problem: "There are no credits left.", remedy: "credits" });
    expect(text()).toContain("There are no credits left.");
    expect(queryByRole("button", { name: /Yes/ })).toBeNull();
    expect(queryByRole("link")?.getAttribute("href")).toBe("/models");
  });

  it("can be done without", async () => {
    const { hand, button } = offered({});
    await hand.click(button("Weave instead"));
    expect(asked[0]?.[0]).toBe("fillHere");
    expect(offered({}, { method: "auto" }).text()).toContain("Without the model");
  });
});

describe("fills of an earlier version", () => {
  it("are said to be out of step, or nothing is said", () => {
    const behind = (count: number) =>
      aDesk({
        sweeps: Array.from({ length: count }, (_, k) => aSweep({ id: String(k), state: "out of step" })),
      });
    expect(shown(<StepBar desk={behind(0)} />).text()).toBe("");
    expect(shown(<StepBar desk={behind(1)} />).text()).toContain("One fill is out of step");
    expect(shown(<StepBar desk={behind(3)} />).text()).toContain("3 fills are out of step");
  });
});

describe("what was filled elsewhere", () => {
  const neighbours = [1, 2, 3].map((id) => ({ id, name: `roof-${id}.tif` }));

  it("is said of other frames of the shoot, and leads there", async () => {
    useReady.setState({ frames: { 1: ["x"], 2: ["b", "c"], 3: ["d"], 9: ["e"] } });
    const gone: unknown[] = [];
    const { hand, button } = shown(
      <ReadyElsewhere desk={aDesk({ neighbours })} go={(...there) => gone.push(there)} />,
    );
    await hand.click(button("roof-2 and 1 more ready"));
    expect(gone).toEqual([[2, "b"]]);
    expect(useReady.getState().frames[1]).toBeUndefined();
  });
});

describe("the sentence for a newcomer", () => {
  it("comes once for each step, and not again once it was done", async () => {
    const desk = aDesk({ sweeps: [aSweep()] });
    useDeskState.setState({ selected: "a" });
    const { hand, text, button } = shown(<GuideBar desk={desk} />, { desk });
    expect(text()).toContain("Marked. Press F");
    expect(useDeskState.getState().learned).toEqual(["mark"]);
    await hand.click(button("Got it"));
    expect(text()).toBe("");
    expect(shown(<GuideBar desk={aDesk()} />).text()).toBe("");
  });

  it("is gone for good for who knows the way", async () => {
    const { hand, button } = shown(<GuideBar desk={aDesk()} />);
    await hand.click(button("I know my way"));
    expect(useDeskState.getState().learned).toEqual(["mark", "fill", "wait", "choose", "judge"]);
  });
});

describe("the bar for marking", () => {
  const bar = (sweep: Sweep | undefined, state: object = {}) => {
    const desk = aDesk({ sweeps: sweep ? [sweep] : [] });
    useDeskState.setState({ selected: sweep?.id ?? null, ...state });
    return shown(<MarkingBar desk={desk} />, { desk });
  };

  it("fills, fills again, or ends a fill", () => {
    expect(bar(aSweep()).text()).toContain("Fill F");
    expect(bar(aSweep({ takes: [aTake(1)] })).text()).toContain("More takes F");
    const busy = bar(
      aSweep({ state: "filling", run: { id: 3, state: "running", progress: 0.2 } as Sweep["run"] }),
    );
    expect(busy.text()).not.toContain("More takes");
    expect(busy.queryAllByRole("button", { name: "Cancel fill" }).length).toBe(1);
  });

  it("has nothing to fill before something is marked", () => {
    expect(bar(undefined).getByRole("button", { name: /^Fill/ }).hasAttribute("disabled")).toBe(true);
  });

  it("asks for the size of pieces only where pieces are taken", () => {
    expect(bar(aSweep()).queryByRole("combobox")).toBeNull();
    const pieces = bar(aSweep(), { tool: "pieces" });
    expect(pieces.getByRole("combobox").getAttribute("aria-label")).toBe("Piece size");
  });
});
