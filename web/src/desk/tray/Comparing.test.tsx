import { describe, expect, it } from "vitest";
import { aSweep, aTake } from "../../testing/made";
import { shown } from "../../testing/shown";
import { useDeskState } from "../state/state";
import { Comparing } from "./Comparing";

const sweep = aSweep({ takes: [aTake(4), aTake(6)] });
const choice = (stands: number) =>
  shown(<Comparing sweep={sweep} stands={stands} />).getByRole("combobox") as HTMLSelectElement;
const names = (select: HTMLSelectElement) => [...select.options].map((each) => each.text);

describe("what a take is compared with", () => {
  it("is any other, as shot first", () => {
    expect(names(choice(6))).toEqual(["as shot", "take 1"]);
  });

  it("is as shot if what was chosen is looked at itself", () => {
    useDeskState.setState({ against: 4 });
    const select = choice(4);
    expect(names(select)).toEqual(["as shot", "take 2"]);
    expect(select.value).toBe("0");
  });
});
