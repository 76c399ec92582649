import { Flex } from "@chakra-ui/react";
import type { Desk, Sweep } from "../../api/client";
import { Minor } from "../../theme/controls";
import type { Actions } from "../doing/actions";

type Props = { sweep: Sweep; desk: Desk; actions: Actions };

/** What can be done with a mark that is not filled yet, besides drawing on. */
export function MaskActions({ sweep, desk, actions }: Props) {
  const free = desk.sweeps.filter((other) => !other.takes.length && other.id !== sweep.id);
  const next = free.find((other) => other.number > sweep.number) ?? free.at(-1);
  return (
    <Flex gap="5px" wrap="wrap">
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
      <a href={`/api/frames/${desk.frame.id}/sweeps/${sweep.id}/mask`} download={`${sweep.name} mask.png`}>
        <Minor as="span" tip="The mask as a PNG file">
          Save mask
        </Minor>
      </a>
    </Flex>
  );
}
