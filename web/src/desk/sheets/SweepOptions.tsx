import { Box, Flex, Text } from "@chakra-ui/react";
import type { Desk, Sweep } from "../../api/client";
import { Choice, Minor } from "../../theme/controls";
import type { Actions } from "../doing/actions";
import { isBusy } from "../reading/sweeps";
import { Advice } from "./Advice";
import { FitPanel } from "./FitPanel";
import { Hints } from "./Hints";
import { ModelOptions } from "./ModelOptions";
import { Placing } from "./Placing";
import { Reflected } from "./Reflected";

type Props = { sweep: Sweep; desk: Desk; actions: Actions };
const METHODS: Sweep["method"][] = ["auto", "close", "weave", "borrow", "backdrop", "reflection", "model"];
/** Those that heed hints. */
const HINTED: Sweep["method"][] = ["auto", "weave", "model"];

/** What can be set of the chosen sweep: the method, and while it is not filled how its mask is made of the mark. */
export function SweepOptions({ sweep, desk, actions }: Props) {
  const busy = isBusy(sweep);
  const fresh = !sweep.takes.length && !busy;
  const free = desk.sweeps.filter((other) => !other.takes.length && other.id !== sweep.id);
  const next = free.find((other) => other.number > sweep.number) ?? free.at(-1);
  return (
    <Box mt="7px" fontSize="13px">
      <Flex align="center" justify="space-between">
        <Text>Method</Text>
        <Choice
          label="Method"
          value={sweep.method}
          among={METHODS}
          wide="96px"
          disabled={busy}
          onChange={(method) => actions.change(sweep, { method })}
        />
      </Flex>
      <ModelOptions sweep={sweep} desk={desk} actions={actions} />
      {HINTED.includes(sweep.method) && <Hints key={sweep.id} sweep={sweep} desk={desk} actions={actions} />}
      <Placing sweep={sweep} desk={desk} actions={actions} />
      {sweep.method === "reflection" && <Reflected sweep={sweep} desk={desk} actions={actions} />}
      {fresh && <FitPanel key={sweep.id} sweep={sweep} desk={desk} actions={actions} />}
      {fresh && <Advice sweep={sweep} desk={desk} actions={actions} />}
      {fresh && (
        <Flex gap="5px" mt="7px" wrap="wrap">
          <Minor
            tip="Remove all shapes of this mark"
            disabled={!sweep.shapes}
            onClick={() => actions.clear(sweep)}
          >
            Clear
          </Minor>
          <Minor tip="A sweep for each separate area" onClick={() => actions.split(sweep)}>
            Split areas
          </Minor>
          {next && (
            <Minor
              tip={`One sweep of this and ${next.name}, filled in one go`}
              onClick={() => actions.join([sweep, next])}
            >
              Join with {next.number}
            </Minor>
          )}
          <a
            href={`/api/frames/${desk.frame.id}/sweeps/${sweep.id}/mask`}
            download={`${sweep.name} mask.png`}
          >
            <Minor as="span" tip="The mask as a PNG file">
              Save mask
            </Minor>
          </a>
        </Flex>
      )}
    </Box>
  );
}
