import { Flex, Grid, Text } from "@chakra-ui/react";
import type { Brings, Sweep } from "../../api/client";
import { Minor } from "../../theme/controls";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";
import { Do } from "../doing/commands/Do";
import { isBusy } from "../reading/sweeps";
import { useStateOf } from "../state/state";

const DRAWING: Record<Brings, string> = {
  edge: words.sheets.drawingLine,
  ground: words.sheets.drawingArrow,
  mirror: words.sheets.drawingAxis,
  repeat: words.sheets.drawingRow,
};

type Props = { sweep: Sweep; actions: Actions };

/** What leads the fill: begin a line, an arrow, an axis or a row, and take one away. */
export function LeadLines({ sweep, actions }: Props) {
  const { leading } = useStateOf("leading");
  const busy = isBusy(sweep);
  const named = {
    edge: { name: words.sheets.line, drop: words.sheets.dropLine, tip: words.sheets.dropLineTip },
    mirror: { name: words.sheets.axis, drop: words.sheets.dropAxis, tip: words.sheets.dropAxisTip },
    repeat: { name: words.sheets.row, drop: words.sheets.dropRow, tip: words.sheets.dropRowTip },
    ground: { name: words.sheets.arrow, drop: words.sheets.dropArrow, tip: words.sheets.dropArrowTip },
  };
  return (
    <>
      <Flex align="center" gap="5px" mt="7px" wrap="wrap">
        <Text flex="1">{words.sheets.lines}</Text>
        {sweep.lead.map((line, k) => {
          const { name, drop, tip } = named[line.brings ?? "edge"];
          return (
            <Minor
              key={JSON.stringify(line)}
              aria-label={drop(k + 1)}
              tip={tip}
              disabled={busy}
              onClick={() => actions.dropLead(sweep.id, k)}
            >
              {name(k + 1)} ×
            </Minor>
          );
        })}
      </Flex>
      <Grid templateColumns="1fr 1fr" gap="5px" mt="5px">
        <Do id="leadLine" as={Minor} keys={undefined} />
        <Do id="leadArrow" as={Minor} keys={undefined} />
        <Do id="leadMirror" as={Minor} keys={undefined} />
        <Do id="leadRepeat" as={Minor} keys={undefined} />
      </Grid>
      {leading && (
        <Text color="soft" lineHeight="1.25" mt="3px" role="status">
          {DRAWING[leading]}
        </Text>
      )}
    </>
  );
}
