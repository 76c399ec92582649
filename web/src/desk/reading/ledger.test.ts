import { describe, expect, it } from "vitest";
import type { Sweep, Take } from "../../api/client";
import { inCredits, inTime, ledger } from "./ledger";
import { said } from "./said";

const made = (more: Partial<Take["made"]>): Pick<Take, "made"> => ({
  made: {
    engine: "weave",
    model: null,
    sha256: null,
    service: null,
    hint: "",
    avoid: "",
    knobs: null,
    credits: 0,
    why: "",
    sisters: [],
    borrowed: 0,
    ...more,
  },
});

describe("the ledger of a take", () => {
  it("says nothing of what was not", () => {
    expect(ledger(made({}))).toEqual([]);
  });
  it("names the service, the words, the settings and what it cost", () => {
    const knobs = { steps: 30, guidance: 7.5, strength: 1 };
    const lines = ledger(
      made({
        model: "Shed",
        service: "https://shed.example",
        hint: "grass",
        avoid: "sky",
        knobs,
        credits: 1,
      }),
    );
    expect(lines).toEqual([
      "Shed, https://shed.example",
      "30 steps, guidance 7.5, strength 1",
      "hint: grass",
      "avoid: sky",
      "1 credit",
    ]);
  });
  it("names a file by the beginning of its hash", () => {
    expect(ledger(made({ model: "Mine", sha256: "0123456789abcdef" }))[0]).toBe("Mine, sha256 0123456789ab…");
  });
});

describe("costs and times in words", () => {
  it("rounds them as people do", () => {
    expect([inCredits(1), inCredits(2.5), inCredits(0.1 + 0.2)]).toEqual([
      "1 credit",
      "2.5 credits",
      "0.3 credits",
    ]);
    expect([inTime(0.2), inTime(44.6), inTime(240)]).toEqual(["about 1 s", "about 45 s", "about 4 min"]);
  });
});

describe("a sweep whose last fill failed", () => {
  const sweep = (more: Partial<Sweep>) =>
    ({ shown: true, takes: [], run: { state: "failed", error: "x" }, ...more }) as unknown as Sweep;
  it("says so beside what it has", () => {
    expect(said(sweep({ state: "failed" }))).toBe("fill failed");
    expect(said(sweep({ state: "choose", takes: [{ id: 1 }] as never }))).toBe(
      "choose · 1 take · last fill failed",
    );
    expect(said(sweep({ state: "kept", pick: 1, takes: [{ id: 1 }] as never }))).toContain(
      "last fill failed",
    );
  });
});

it("says from which frames true pixels came, and what no frame shows", () => {
  expect(ledger(made({ sisters: ["ov-0414", "ov-0415"], borrowed: 1 }))).toEqual([
    "real pixels from ov-0414 and ov-0415",
  ]);
  expect(ledger(made({ sisters: ["ov-0414"], borrowed: 0.93 }))[0]).toContain("7 % woven");
});
