import { Box, Flex, Text } from "@chakra-ui/react";
import type { Touch } from "../../api/client";
import { Small } from "../../theme/controls";
import type { Actions } from "../doing/actions";

type Props = { touches: Touch[]; actions: Actions };

/** Touch-up strokes that lie on top of each other, as one line of the job sheet. */
export function TouchLine({ touches, actions }: Props) {
  const shown = touches.some((touch) => touch.shown);
  const ids = touches.map((touch) => touch.id);
  const last = ids.at(-1);
  return (
    <Box
      as="li"
      px="10px"
      py="6px"
      borderBottom="1px solid"
      borderColor="line"
      borderLeft="4px solid transparent"
      data-testid="touch-ups"
      opacity={shown ? 1 : 0.55}
    >
      <Text fontWeight={700}>Touch-ups</Text>
      <Text fontSize="13px" color="soft">
        {counted(touches)}
      </Text>
      <Flex gap="10px" fontSize="13px">
        <Small
          tip="These strokes on or off"
          aria-label={shown ? "Switch off touch-ups" : "Switch on touch-ups"}
          onClick={() => actions.showTouches(ids, !shown)}
        >
          {shown ? "Off" : "On"}
        </Small>
        <Small
          tip="The last stroke only; undo brings it back"
          aria-label="Delete the last touch-up"
          onClick={() => last && actions.deleteTouches([last])}
        >
          Delete last
        </Small>
        <Small
          tip="All of these strokes; undo brings them back"
          aria-label="Delete touch-ups"
          onClick={() => actions.deleteTouches(ids)}
        >
          Delete
        </Small>
      </Flex>
    </Box>
  );
}

/** "3 clone, 1 heal", in the order in which the brushes were first used. */
function counted(touches: Touch[]): string {
  const counts = new Map<string, number>();
  for (const { brush } of touches) counts.set(brush, (counts.get(brush) ?? 0) + 1);
  return [...counts].map(([brush, count]) => `${count} ${brush}`).join(", ");
}
