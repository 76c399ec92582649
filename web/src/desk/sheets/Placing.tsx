import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Desk, Sweep } from "../../api/client";
import { Amount, Minor } from "../../theme/controls";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";
import { isBusy } from "../reading/sweeps";

type Props = { sweep: Sweep; desk: Desk; actions: Actions };

/** Where the sweep lies: between which others, and its mask shifted by typed pixels. */
export function Placing({ sweep, desk, actions }: Props) {
  const [by, setBy] = useState({ across: 0, down: 0 });
  const busy = isBusy(sweep);
  return (
    <Box as="details" mt="5px">
      <Text as="summary" cursor="pointer" color="soft">
        {words.sheets.place}
      </Text>
      <Flex gap="5px" mt="5px">
        <Minor
          disabled={sweep.number === 1}
          tip={words.sheets.earlierTip}
          onClick={() => actions.reorder(sweep, -1)}
        >
          {words.sheets.earlier}
        </Minor>
        <Minor
          disabled={sweep.number === desk.sweeps.length}
          tip={words.sheets.laterTip}
          onClick={() => actions.reorder(sweep, 1)}
        >
          {words.sheets.later}
        </Minor>
      </Flex>
      <Flex gap="5px" mt="5px" align="center" wrap="wrap">
        <Amount
          label={words.sheets.right}
          unit={words.units.px}
          value={by.across}
          least={-20000}
          most={20000}
          onChange={(across) => setBy({ ...by, across })}
        />
        <Amount
          label={words.sheets.down}
          unit={words.units.px}
          value={by.down}
          least={-20000}
          most={20000}
          onChange={(down) => setBy({ ...by, down })}
        />
        <Minor
          disabled={busy || (!by.across && !by.down)}
          tip={words.sheets.moveTip}
          onClick={() => {
            actions.move(sweep, by.across, by.down);
            setBy({ across: 0, down: 0 });
          }}
        >
          {words.sheets.move}
        </Minor>
      </Flex>
    </Box>
  );
}
