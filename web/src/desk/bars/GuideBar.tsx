import { Flex, Text } from "@chakra-ui/react";
import { useEffect } from "react";
import type { Desk } from "../../api/client";
import { Minor } from "../../theme/controls";
import * as words from "../../words/words";
import { SAYS, STEPS, stepOf, stepsBefore } from "../reading/guide";
import { chosen } from "../reading/sweeps";
import { useStateOf } from "../state/state";

/** One sentence for a newcomer: what comes next. It is gone once that was done, and does not come again. */
export function GuideBar({ desk }: { desk: Desk }) {
  const { selected, learned, set } = useStateOf("selected", "learned", "set");
  const step = stepOf(desk, chosen(desk, selected));
  useEffect(() => {
    const more = stepsBefore(step).filter((each) => !learned.includes(each));
    if (more.length) set({ learned: [...learned, ...more] });
  }, [step, learned, set]);
  if (learned.includes(step)) return null;
  return (
    <Flex
      role="status"
      aria-label={words.bars.whatComesNext}
      align="center"
      gap="10px"
      px="14px"
      minH="32px"
      flexShrink={0}
      bg="raised"
      borderTop="1px solid"
      borderColor="line"
      borderLeft="4px solid"
      borderLeftColor="marigold"
    >
      <Text flex="1">{SAYS[step]}</Text>
      <Minor onClick={() => set({ learned: [...learned, step] })}>{words.bars.gotIt}</Minor>
      <Minor tip={words.bars.knowMyWayTip} onClick={() => set({ learned: [...STEPS] })}>
        {words.bars.knowMyWay}
      </Minor>
    </Flex>
  );
}
