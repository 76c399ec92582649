import { Flex, Text } from "@chakra-ui/react";
import type { Desk, Sweep } from "../../api/client";
import { Amount, Minor } from "../../theme/controls";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";
import { Do } from "../doing/commands/Do";

type Props = { sweep: Sweep; desk: Desk; actions: Actions };

/** Seconds that the best version takes for a million pixels (docs/scouts.md). */
const SECONDS = 0.6;

/** How much of a reflection is taken off, a look at it alone, and how long the best version takes. */
export function Reflected({ sweep, desk, actions }: Props) {
  const area = Math.min(sweep.box.width, desk.frame.width) * Math.min(sweep.box.height, desk.frame.height);
  const seconds = Math.max(1, Math.round((area / 1e6) * SECONDS));
  if (!sweep.takes.length)
    return (
      <Text mt="5px" lineHeight="1.3" color="soft">
        {words.sheets.reflectedSays(seconds)}
      </Text>
    );
  return (
    <Flex mt="7px" gap="6px" align="center" justify="space-between">
      <Amount
        label={words.sheets.amount}
        unit="%"
        value={sweep.amount}
        least={0}
        most={100}
        tip={words.sheets.amountTip}
        onChange={(amount) => actions.change(sweep, { amount })}
      />
      <Do id="alone" as={Minor} />
    </Flex>
  );
}
