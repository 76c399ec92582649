import { Flex, Heading, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ask, type Taste as Told } from "../api/client";
import { Act } from "../theme/controls";
import { Problem } from "../theme/Problem";
import * as words from "../words/words";

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
        {words.library.whatYouPick}
      </Heading>
      {wrong && <Problem text={wrong.message} />}
      {told && (
        <>
          <Text color="soft" mt="4px" mb="10px" maxW="680px" aria-live="polite">
            {words.library.whatIsKept(said(told))}
          </Text>
          <Flex gap="8px" wrap="wrap">
            <Act
              pressed={told.followed}
              tip={words.library.followTip}
              disabled={follow.isPending}
              onClick={() => follow.mutate(!told.followed)}
            >
              {words.library.follow}
            </Act>
            <a href="/api/taste/file" download="keen-sweep-picks.json">
              <Act as="span">{words.library.saveThem}</Act>
            </a>
            <Act
              tip={words.library.forgetThemTip}
              disabled={told.picks === 0 || forget.isPending}
              onClick={() => forget.mutate()}
            >
              {words.library.forgetThem}
            </Act>
          </Flex>
        </>
      )}
    </section>
  );
}

const MEANT: Record<NonNullable<Told["minded"]>["term"], string> = {
  fine: words.library.fine,
  coarse: words.library.coarse,
  unlike: words.library.unlike,
  repeats: words.library.repeats,
  softness: words.library.softness,
};

/** What picks say, in a sentence or two. */
function said({ picks, fewest, followed, minded }: Told): string {
  if (picks < fewest) return words.library.fewPicks(picks, fewest);
  if (!minded) return words.library.sameMind(picks);
  return words.library.mind(picks, MEANT[minded.term], minded.more, followed);
}
