import { describe, expect, it } from "vitest";
import { ask, Refused, worthAsking } from "./client";

const answer = (status: number) =>
  Promise.resolve({ error: { detail: "It is not there." }, response: new Response(null, { status }) });

describe("what was refused", () => {
  it("is told in the server's words, and not asked for again", async () => {
    const refused: Error = await ask(answer(404)).catch((error) => error);
    expect(refused).toBeInstanceOf(Refused);
    expect(refused.message).toBe("It is not there.");
    expect(worthAsking(0, refused)).toBe(false);
  });

  it("is asked for once more when the server was in trouble or was not reached", async () => {
    const troubled: Error = await ask(answer(500)).catch((error) => error);
    const unreached: Error = await ask(Promise.reject(new TypeError())).catch((error) => error);
    for (const error of [troubled, unreached]) {
      expect(worthAsking(0, error)).toBe(true);
      expect(worthAsking(1, error)).toBe(false);
    }
  });
});
