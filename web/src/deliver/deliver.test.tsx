import { describe, expect, it } from "vitest";
import { aDesk, aFrame, aSweep, aTake } from "../testing/made";
import { shown } from "../testing/shown";
import { InIt } from "./InIt";
import { Kinds } from "./Kinds";
import { Where } from "./Where";
import { LIKE_THE_ORIGINAL } from "./wanted";

describe("what is in a delivered picture", () => {
  it("is what is picked and switched on; of the rest it says why not", () => {
    const takes = [aTake(1)];
    const sweeps = [
      aSweep({ id: "a", number: 1, name: "Rod", takes, pick: 1 }),
      aSweep({ id: "b", number: 2, name: "Wire", takes }),
      aSweep({ id: "c", number: 3, name: "Sign", takes, pick: 1, shown: false }),
    ];
    const { getAllByRole } = shown(<InIt desk={aDesk({ sweeps })} />);
    expect(getAllByRole("listitem").map((each) => each.textContent)).toEqual([
      "1Rod",
      "2Wireno take picked",
      "3Signswitched off",
    ]);
    expect(shown(<InIt desk={aDesk()} />).text()).toContain("No sweep has a take yet");
  });
});

describe("the kind of file", () => {
  it("is told in a sentence where it is chosen, and asks for a size only for the web", async () => {
    const changes: object[] = [];
    const kinds = (kind: "same" | "web") => (
      <Kinds
        frames={[aFrame()]}
        wanted={{ ...LIKE_THE_ORIGINAL, kind }}
        change={(some) => changes.push(some)}
      />
    );
    const { hand, text, becomes, getByLabelText, queryByLabelText } = shown(kinds("same"));
    expect(text()).toContain("TIFF, the original file where nothing was changed");
    expect(queryByLabelText("Long side in px")).toBeNull();
    await hand.click(getByLabelText("For the web"));
    expect(changes).toEqual([{ kind: "web" }]);
    becomes(kinds("web"));
    expect(getByLabelText("Long side in px")).toBeDefined();
  });
});

describe("where to", () => {
  const where = (more: Partial<Parameters<typeof Where>[0]>) => (
    <Where
      count={1}
      wanted={LIKE_THE_ORIGINAL}
      change={() => {}}
      folder={null}
      setFolder={() => {}}
      first="roof-0001-swept.tif"
      wrong={undefined}
      there={0}
      {...more}
    />
  );

  it("shows the first name, or what is wrong with it", () => {
    const { getByRole, becomes } = shown(where({}));
    expect(getByRole("status").textContent).toBe("roof-0001-swept.tif");
    becomes(where({ count: 3 }));
    expect(getByRole("status").textContent).toBe("roof-0001-swept.tif and so on");
    becomes(where({ wrong: "No such part: {day}." }));
    expect(getByRole("status").textContent).toBe("No such part: {day}.");
    expect(getByRole("textbox").getAttribute("aria-invalid")).toBe("true");
  });

  it("is one ZIP for several files, and warns of files that are there", () => {
    expect(shown(where({})).text()).not.toContain("ZIP");
    expect(shown(where({ count: 2 })).text()).toContain("Downloads, as one ZIP file");
    expect(shown(where({ folder: "~/out", there: 1 })).text()).toContain("One file exists already.");
    expect(shown(where({ there: 1 })).text()).not.toContain("already there");
  });
});
