import { Flex, Heading, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ask, type Taste as Told } from "../api/client";
import { Act } from "../theme/controls";
import { Problem } from "../theme/Problem";

const tasteKey = ["taste"] as const;

/** What was learned from which takes were picked; whether they are put in order by it. */
export function Taste() {
  const queries = useQueryClient();
  const taste = useQuery({ queryKey: tasteKey, queryFn: () => ask(api.GET("/api/taste")), staleTime: 0 });
  // Every desk has another order then.
  const onSuccess = (told: Told) => {
    queries.setQueryData(tasteKey, told);
    return queries.invalidateQueries({ queryKey: ["desk"] });
  };
  const follow = useMutation({
    mutationFn: (followed: boolean) => ask(api.PATCH("/api/taste", { body: { followed } })),
    onSuccess,
  });
  const forget = useMutation({ mutationFn: () => ask(api.DELETE("/api/taste")), onSuccess });
  const told = taste.data;
  const wrong = taste.error ?? follow.error ?? forget.error;
  return (
    <section aria-labelledby="picks">
      <Heading size="sm" mt="28px" id="picks">
        What you pick
      </Heading>
      {wrong && <Problem text={wrong.message} />}
      {told && (
        <>
          <Text color="soft" mt="4px" mb="10px" maxW="680px" aria-live="polite">
            {said(told)} What is kept are figures of the takes, here in the library; it goes nowhere.
          </Text>
          <Flex gap="8px" wrap="wrap">
            <Act
              pressed={told.followed}
              tip="Which take is called the best follows from what you picked before"
              disabled={follow.isPending}
              onClick={() => follow.mutate(!told.followed)}
            >
              Follow my picks
            </Act>
            <a href="/api/taste/file" download="keen-sweep-picks.json">
              <Act as="span">Save them</Act>
            </a>
            <Act
              tip="Begin anew: no pick so far counts any more"
              disabled={told.picks === 0 || forget.isPending}
              onClick={() => forget.mutate()}
            >
              Forget them
            </Act>
          </Flex>
        </>
      )}
    </section>
  );
}

const MEANT: Record<NonNullable<Told["minded"]>["term"], string> = {
  fine: "small odd places",
  coarse: "large odd places",
  unlike: "what is unlike its surroundings",
  repeats: "what occurs twice",
  softness: "softness",
};

/** What picks say, in a sentence or two. */
function said({ picks, fewest, followed, minded }: Told): string {
  if (picks < fewest)
    return `Of ${picks === 1 ? "one sweep" : `${picks} sweeps`} it is known which of several takes you picked: from ${fewest} on it can be told what you mind.`;
  if (!minded) return `Of ${picks} sweeps it is known which take you picked: you mind what we do.`;
  const what = `By your ${picks} picks you mind ${MEANT[minded.term]} ${minded.more ? "more" : "less"} than we do`;
  return followed ? `${what}, and the take that is called best follows from that.` : `${what}.`;
}
