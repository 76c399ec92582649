import { describe, expect, it, vi } from "vitest";
import { api, type Notice, type Token, type Taste as Told } from "../api/client";
import { shown } from "../testing/shown";
import { Notices } from "./Notices";
import { Taste } from "./Taste";
import { Tokens } from "./Tokens";

const answered = (data: unknown) => ({ data, response: new Response() }) as never;
const says = (data: unknown) => vi.spyOn(api, "GET").mockResolvedValue(answered(data));

describe("what picks say", () => {
  const taste = (more: Partial<Told>) => {
    says({ picks: 9, fewest: 6, followed: true, weights: {}, ours: {}, minded: null, ...more });
    return shown(<Taste />).findByText(/stored, in this library/);
  };

  it("is nothing before there are enough of them", async () => {
    expect((await taste({ picks: 1 })).textContent).toContain("once you have picked 6. So far: 1.");
    expect((await taste({ picks: 4 })).textContent).toContain("So far: 4.");
  });

  it("is what they mind more or less than we do, and whether it is followed", async () => {
    const minded = { term: "repeats", more: true } as NonNullable<Told["minded"]>;
    expect((await taste({})).textContent).toContain("agree with the default ranking");
    expect((await taste({ minded })).textContent).toContain(
      "Your 9 picks avoid repeated texture more than the default ranking, and takes",
    );
    expect((await taste({ minded, followed: false })).textContent).toContain(
      "more than the default ranking. Only",
    );
  });
});

describe("tokens", () => {
  it("are shown once, when they are made", async () => {
    const token = { id: 3, name: "night job", scope: "edit", used_at: null } as Token;
    says([token]);
    vi.spyOn(api, "POST").mockResolvedValue(answered({ ...token, words: "ks-secret" }));
    const { hand, findByText, getByRole, button, text } = shown(<Tokens />);
    await findByText("night job");
    expect(text()).toContain("never used");
    expect(button("Create a token").hasAttribute("disabled")).toBe(true);
    await hand.type(getByRole("textbox"), "night job");
    await hand.click(button("Create a token"));
    expect((await findByText("ks-secret")).tagName).toBe("CODE");
  });

  it("are revoked by name", async () => {
    says([{ id: 3, name: "night job", scope: "read", used_at: "2026-05-01T10:00:00Z" } as Token]);
    const gone = vi.spyOn(api, "DELETE").mockResolvedValue(answered(undefined));
    const { hand, findByRole } = shown(<Tokens />);
    await hand.click(await findByRole("button", { name: "Revoke night job" }));
    expect(gone.mock.calls[0]?.[1]).toEqual({ params: { path: { token_id: 3 } } });
  });
});

describe("notices", () => {
  const notice = (more: Partial<Notice>) =>
    ({
      id: 1,
      name: "n1",
      kind: "fill.done",
      attempts: 0,
      made_at: "2026-05-01T10:00:00Z",
      sent_at: null,
      due_at: null,
      answer: null,
      ...more,
    }) as Notice;
  const told = async (...newest: Notice[]) => {
    says({ address: "https://studio.example/heard", newest });
    const found = shown(<Notices />);
    await found.findByText("https://studio.example/heard");
    return found.text();
  };

  it("say what became of each", async () => {
    const sent_at = "2026-05-01T10:00:01Z";
    expect(await told(notice({ sent_at }))).toContain("received");
    expect(await told(notice({ due_at: sent_at }))).toContain("sending");
    expect(await told(notice({ attempts: 2, due_at: sent_at, answer: "500" }))).toMatch(
      /retries at .*\. 500/,
    );
    expect(await told(notice({ attempts: 9, answer: "It did not answer." }))).toContain(
      "gave up. It did not answer.",
    );
  });

  it("can be sent to one place only", async () => {
    says({ address: null, newest: [] });
    const { findByRole, queryByRole } = shown(<Notices />);
    expect(await findByRole("button", { name: "Add webhook" })).toBeDefined();
    expect(queryByRole("button", { name: "Remove webhook" })).toBeNull();
  });
});
