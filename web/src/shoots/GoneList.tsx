import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask } from "../api/client";
import { askAgain, goneKey, shootsKey, useGone } from "../api/queries";
import { Act } from "../theme/controls";

import { Problem } from "../theme/Problem";
import * as words from "../words/words";

/** What was deleted, and can be brought back for a while. */
export function GoneList() {
  const queries = useQueryClient();
  const gone = useGone();
  const [problem, setProblem] = useState("");
  if (!gone.data?.length) return null;
  const back = (shoot_id: number) =>
    ask(api.POST("/api/gone/{shoot_id}/bring-back", { params: { path: { shoot_id } } }))
      .then(() => {
        setProblem("");
        void askAgain(queries, goneKey);
        return askAgain(queries, shootsKey);
      })
      .catch((error: Error) => setProblem(error.message));
  return (
    <Box as="section" aria-label={words.shoots.deleted} p="12px">
      <Heading size="sm">{words.shoots.deleted}</Heading>
      {problem && <Problem text={problem} />}
      <Box as="ul" listStyleType="none" mt="6px">
        {gone.data.map((each) => (
          <Flex as="li" key={each.shoot} align="center" gap="10px" py="3px">
            <Text fontWeight={700} truncate>
              {each.name}
            </Text>
            <Text color="soft" fontSize="13px" whiteSpace="nowrap">
              {words.shoots.kept(
                each.frames,
                new Date(each.until).toLocaleDateString([], { dateStyle: "medium" }),
              )}
            </Text>
            <Act aria-label={words.shoots.bringBackNamed(each.name)} onClick={() => back(each.shoot)}>
              {words.shoots.bringBack}
            </Act>
          </Flex>
        ))}
      </Box>
    </Box>
  );
}
