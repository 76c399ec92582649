import { Box, Flex, Text } from "@chakra-ui/react";
import type { Touch } from "../../api/client";
import { Small } from "../../theme/controls";
import * as words from "../../words/words";
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
      <Text fontWeight={700}>{words.sheets.touchUps}</Text>
      <Text fontSize="13px" color="soft">
        {counted(touches)}
      </Text>
      <Flex gap="10px" fontSize="13px">
        <Small
          tip={words.sheets.touchesTip}
          aria-label={shown ? words.sheets.switchOffTouchUps : words.sheets.switchOnTouchUps}
          onClick={() => actions.showTouches(ids, !shown)}
        >
          {shown ? words.sheets.off : words.sheets.on}
        </Small>
        <Small
          tip={words.sheets.deleteLastTip}
          aria-label={words.sheets.deleteLastTouchUp}
          onClick={() => last && actions.deleteTouches([last])}
        >
          {words.sheets.deleteLast}
        </Small>
        <Small
          tip={words.sheets.deleteTouchUpsTip}
          aria-label={words.sheets.deleteTouchUps}
          onClick={() => actions.deleteTouches(ids)}
        >
          {words.sheets.delete}
        </Small>
      </Flex>
    </Box>
  );
}

/** "3 clone, 1 heal", in the order in which the brushes were first used. */
function counted(touches: Touch[]): string {
  const counts = new Map<Touch["brush"], number>();
  for (const { brush } of touches) counts.set(brush, (counts.get(brush) ?? 0) + 1);
  return [...counts]
    .map(([brush, count]) => words.sheets.strokes(count, words.named.brush[brush]))
    .join(", ");
}
