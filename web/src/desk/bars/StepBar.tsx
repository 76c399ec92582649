import { Flex, Text } from "@chakra-ui/react";
import type { Desk } from "../../api/client";
import * as words from "../../words/words";
import { Do } from "../doing/commands/Do";

/** Under the picture: fills that were made for an earlier version of it. */
export function StepBar({ desk }: { desk: Desk }) {
  const behind = desk.sweeps.filter((sweep) => sweep.state === "out of step").length;
  if (!behind) return null;
  return (
    <Flex
      role="region"
      aria-label={words.bars.outOfStep}
      align="center"
      gap="8px"
      minH="38px"
      px="14px"
      flexShrink={0}
      borderTop="1px solid"
      borderColor="line"
      bg="raised"
    >
      <Text flex="1">
        <b>{words.bars.behind(behind)}</b> {words.bars.andNotShown}
      </Text>
      <Do id="layAgain" />
      <Do id="fillAnew" />
      <Do id="letGo" />
    </Flex>
  );
}
