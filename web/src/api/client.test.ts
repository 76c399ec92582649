import { describe, expect, it } from "vitest";
import { ask, Refused, worthAsking } from "./client";

const answer = (status: number) =>
  Promise.resolve({ error: { detail: "It is not there." }, response: new Response(null, { status }) });

const failed = (asked: Promise<unknown>) =>
  asked.then(
    () => new Error("It was answered."),
    (error: Error) => error,
  );

describe("what was refused", () => {
  it("is told in the server's words, and not asked for again", async () => {
    const refused = await failed(ask(answer(404)));
    expect(refused).toBeInstanceOf(Refused);
    expect(refused.message).toBe("It is not there.");
    expect(worthAsking(0, refused)).toBe(false);
  });

  it("is asked for once more when the server was in trouble or was not reached", async () => {
    const troubled = await failed(ask(answer(500)));
    const unreached = await failed(ask(Promise.reject(new TypeError())));
    for (const error of [troubled, unreached]) {
      expect(worthAsking(0, error)).toBe(true);
      expect(worthAsking(1, error)).toBe(false);
    }
  });
});
