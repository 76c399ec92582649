import { Flex, Text } from "@chakra-ui/react";
import type { Sweep } from "../../api/client";
import { Minor } from "../../theme/controls";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";
import { Do } from "../doing/commands/Do";
import { isBusy } from "../reading/sweeps";
import { useStateOf } from "../state/state";

type Props = { sweep: Sweep; actions: Actions };

/** Lines along which the fill goes on: begin one, and take one away. */
export function LeadLines({ sweep, actions }: Props) {
  const { leading } = useStateOf("leading");
  const busy = isBusy(sweep);
  return (
    <>
      <Flex align="center" gap="5px" mt="7px" wrap="wrap">
        <Text flex="1">{words.sheets.lines}</Text>
        {sweep.lead.map((line, k) => (
          <Minor
            key={JSON.stringify(line.points)}
            aria-label={words.sheets.dropLine(k + 1)}
            tip={words.sheets.dropLineTip}
            disabled={busy}
            onClick={() => actions.dropLead(sweep.id, k)}
          >
            {words.sheets.line(k + 1)} ×
          </Minor>
        ))}
        <Do id="leadLine" as={Minor} keys={undefined} />
      </Flex>
      {leading && (
        <Text color="soft" lineHeight="1.25" mt="3px" role="status">
          {words.sheets.drawingLine}
        </Text>
      )}
    </>
  );
}
