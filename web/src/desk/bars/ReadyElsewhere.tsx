import { Flex, Text } from "@chakra-ui/react";
import { useEffect } from "react";
import type { Desk } from "../../api/client";
import { useReady } from "../../api/ready";
import { Minor } from "../../theme/controls";
import * as words from "../../words/words";

type Props = { desk: Desk; go: (frame: number, sweep?: string) => void };

/** Fills that were finished on other frames meanwhile, quietly: one click leads there. It hangs below the bar, so that
 * nothing moves when it comes. */
export function ReadyElsewhere({ desk, go }: Props) {
  const { frames, seen } = useReady();
  useEffect(() => seen(desk.frame.id), [desk.frame.id, seen]);
  const ready = desk.neighbours.filter((each) => each.id !== desk.frame.id && frames[each.id]);
  const first = ready[0];
  if (!first) return null;
  const sweeps = frames[first.id] ?? [];

  return (
    <Flex
      role="status"
      align="center"
      gap="6px"
      position="absolute"
      top="calc(100% + 6px)"
      right="10px"
      zIndex={2}
      p="4px 6px 4px 10px"
      bg="panel"
      border="1px solid"
      borderColor="line"
      borderRadius="3px"
    >
      <Text as="span" w="8px" h="8px" borderRadius="50%" bg="marigold" flexShrink={0} />
      <Minor tip={words.bars.readyTip} onClick={() => go(first.id, sweeps[0])}>
        {words.bars.readyTo(first.name.replace(/\.[^.]+$/, ""), ready.length - 1)}
      </Minor>
    </Flex>
  );
}
