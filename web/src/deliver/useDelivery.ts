import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useDebounce } from "use-debounce";
import { lastDeliveryKey } from "../api/queries";
import { type Delivery, deliver, names } from "./doing";

/** How long a wish rests before its names are asked for, ms. */
const REST = 250;

/** A delivery as it is wished for: under which names it would go out, and the way to do it. */
export function useDelivery(wish: Delivery) {
  const queries = useQueryClient();
  const [done, setDone] = useState<{ done: number; of: number } | null>(null);
  const [word, setWord] = useState<{ text: string; bad: boolean } | null>(null);
  const [asked] = useDebounce(wish, REST);
  const named = useQuery({
    queryKey: ["names", JSON.stringify(asked)],
    queryFn: () => names(asked),
    retry: false,
    staleTime: 0,
  });
  const there = named.data?.filter((each) => each.there).length ?? 0;
  // What was said of another wish says nothing of this one.
  // biome-ignore lint/correctness/useExhaustiveDependencies: whenever it is another one
  useEffect(() => setWord(null), [wish.wanted, wish.folder]);
  const go = async () => {
    setWord(null);
    setDone({ done: 0, of: wish.frames.length });
    try {
      const text = await deliver(wish, there > 0, (done, of) => setDone({ done, of }));
      queries.invalidateQueries({ queryKey: lastDeliveryKey(wish.shoot) });
      queries.invalidateQueries({ queryKey: ["names"] });
      setWord({ text, bad: false });
    } catch (error) {
      setWord({ text: (error as Error).message, bad: true });
    } finally {
      setDone(null);
    }
  };
  return { names: named.data, wrong: named.error?.message, there, done, word, go };
}
