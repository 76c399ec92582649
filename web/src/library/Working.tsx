import { Heading, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ask } from "../api/client";
import { Act } from "../theme/controls";
import { Problem } from "../theme/Problem";
import * as words from "../words/words";

const preferencesKey = ["preferences"] as const;

/** Whether the best take of a fill shows before one is picked. */
export function Working() {
  const queries = useQueryClient();
  const preferences = useQuery({
    queryKey: preferencesKey,
    queryFn: () => ask(api.GET("/api/preferences")),
    staleTime: 0,
  });
  const change = useMutation({
    mutationFn: (strict: boolean) => ask(api.PATCH("/api/preferences", { body: { strict } })),
    // Every picture may look different then.
    onSuccess: () => queries.invalidateQueries(),
  });
  const wrong = preferences.error ?? change.error;
  return (
    <section aria-labelledby="working">
      <Heading size="sm" mt="28px" id="working">
        {words.library.working}
      </Heading>
      {wrong && <Problem text={wrong.message} />}
      <Text color="soft" mt="4px" mb="10px" maxW="680px">
        {words.library.workingSays}
      </Text>
      {preferences.data && (
        <Act
          pressed={!preferences.data.strict}
          disabled={change.isPending}
          onClick={() => change.mutate(!preferences.data.strict)}
        >
          {words.library.showAtOnce}
        </Act>
      )}
    </section>
  );
}
