import { Box, Flex, Text } from "@chakra-ui/react";
import type { Desk, Sweep } from "../../api/client";
import { Choice, Minor } from "../../theme/controls";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";
import { canLead, isBusy } from "../reading/sweeps";
import { Advice } from "./Advice";
import { FitPanel } from "./FitPanel";
import { Hints } from "./Hints";
import { HowMany, Opacity } from "./HowMany";
import { LeadLines } from "./LeadLines";
import { ModelOptions } from "./ModelOptions";
import { Placing } from "./Placing";
import { Reflected } from "./Reflected";

type Props = { sweep: Sweep; desk: Desk; actions: Actions };
const METHODS: Sweep["method"][] = ["auto", "close", "weave", "borrow", "backdrop", "reflection", "model"];
/** Those that heed hints. */
const HINTED: Sweep["method"][] = ["auto", "weave", "model"];

/** What can be set of the chosen sweep: while it is not filled what is doubtful of its mark and how far the mask reaches,
 * then how it is filled. What is seldom asked for is folded. */
export function SweepOptions({ sweep, desk, actions }: Props) {
  const busy = isBusy(sweep);
  const fresh = !sweep.takes.length && !busy;
  return (
    <Box mt="7px" fontSize="13px">
      {sweep.below_changed && <BelowChanged sweep={sweep} actions={actions} />}
      {fresh && <Advice key={`advice ${sweep.id}`} sweep={sweep} desk={desk} actions={actions} />}
      {fresh && <FitPanel key={`fit ${sweep.id}`} sweep={sweep} desk={desk} actions={actions} />}
      <Flex align="center" justify="space-between" mt="7px">
        <Text>{words.sheets.method}</Text>
        <Choice
          label={words.sheets.method}
          value={sweep.method}
          among={METHODS}
          said={(each) => words.named.method[each]}
          wide="96px"
          disabled={busy}
          onChange={(method) => actions.change(sweep, { method })}
        />
      </Flex>
      <ModelOptions sweep={sweep} desk={desk} actions={actions} />
      {canLead(sweep) && <LeadLines sweep={sweep} actions={actions} />}
      {HINTED.includes(sweep.method) && (
        <Hints key={`hints ${sweep.id}`} sweep={sweep} desk={desk} actions={actions} />
      )}
      {sweep.method !== "reflection" && <HowMany sweep={sweep} />}
      {sweep.method !== "reflection" && sweep.standing !== null && (
        <Opacity sweep={sweep} actions={actions} />
      )}
      <Placing sweep={sweep} desk={desk} actions={actions} />
      {sweep.method === "reflection" && <Reflected sweep={sweep} desk={desk} actions={actions} />}
    </Box>
  );
}

/** The take was filled on another one than stands below it now: said, with the way to put it right. */
function BelowChanged({ sweep, actions }: Pick<Props, "sweep" | "actions">) {
  return (
    <Flex align="center" gap="5px" role="status">
      <Text flex="1" lineHeight="1.3">
        {words.sheets.belowChanged}
      </Text>
      <Minor tip={words.sheets.layOnTopTip} onClick={() => actions.layOnTop(sweep.id)}>
        {words.sheets.layOnTop}
      </Minor>
    </Flex>
  );
}
