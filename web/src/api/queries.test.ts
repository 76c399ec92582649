import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { expect, it } from "vitest";
import { askAgain } from "./queries";

it("asks again after a change, even if the first answer is still under way", async () => {
  const queries = new QueryClient();
  let kept = "before";
  const answers: (() => void)[] = [];
  const asks = () => {
    const known = kept;
    return new Promise<string>((answer) => answers.push(() => answer(known)));
  };
  const seen = new QueryObserver(queries, { queryKey: ["k"], queryFn: asks, networkMode: "always" });
  const end = seen.subscribe(() => {});
  expect(answers).toHaveLength(1);
  kept = "after";
  const asked = askAgain(queries, ["k"]);
  await expect.poll(() => answers.length).toBe(2);
  // The first answer comes late, and does not count.
  answers[0]?.();
  answers[1]?.();
  await asked;
  expect(seen.getCurrentResult().data).toBe("after");
  end();
});
