import { describe, expect, it } from "vitest";
import type { Sweep } from "../../api/client";
import { aSweep } from "../../testing/made";
import { actions, asked, shown } from "../../testing/shown";
import { FillTrouble } from "./FillTrouble";

const failed = (remedy: string | null, more: Partial<Sweep> = {}) =>
  aSweep({ run: { state: "failed", error: "The model said no.", remedy } as Sweep["run"], ...more });

describe("a fill that failed", () => {
  it("says why and offers the same once more", async () => {
    const sweep = failed(null);
    const { hand, button, text, queryByText } = shown(<FillTrouble sweep={sweep} actions={actions} />);
    expect(text()).toContain("The model said no.");
    expect(queryByText("Weave instead")).toBeNull();
    await hand.click(button("Try again"));
    expect(asked).toEqual([["fill", sweep]]);
  });

  it("of a model can be woven instead", async () => {
    const { hand, button } = shown(
      <FillTrouble sweep={failed(null, { method: "model" })} actions={actions} />,
    );
    await hand.click(button("Weave instead"));
    expect(asked[0]?.[0]).toBe("fillHere");
  });

  it("says what helps, and leads to the models where only they can be put right", () => {
    const { text, becomes, queryByRole } = shown(<FillTrouble sweep={failed("smaller")} actions={actions} />);
    expect(text()).toContain("a smaller mask");
    expect(queryByRole("link")).toBeNull();
    for (const remedy of ["key", "credits"]) {
      becomes(<FillTrouble sweep={failed(remedy)} actions={actions} />);
      expect(queryByRole("link")?.getAttribute("href")).toBe("/models");
    }
  });

  it("offers nothing while another fill of the sweep runs", () => {
    const { queryAllByRole } = shown(
      <FillTrouble sweep={failed("key", { state: "waiting" })} actions={actions} />,
    );
    expect(queryAllByRole("button")).toEqual([]);
  });
});
