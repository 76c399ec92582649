import { Flex } from "@chakra-ui/react";
import type { Desk, Sweep } from "../../api/client";
import { Minor } from "../../theme/controls";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";

type Props = { sweep: Sweep; desk: Desk; actions: Actions };

/** What can be done with a mark that is not filled yet, besides drawing on. */
export function MaskActions({ sweep, desk, actions }: Props) {
  const free = desk.sweeps.filter((other) => !other.takes.length && other.id !== sweep.id);
  const next = free.find((other) => other.number > sweep.number) ?? free.at(-1);
  return (
    <Flex gap="5px" wrap="wrap">
      <Minor tip={words.sheets.clearTip} disabled={!sweep.shapes} onClick={() => actions.clear(sweep)}>
        {words.sheets.clear}
      </Minor>
      <Minor tip={words.sheets.splitAreasTip} onClick={() => actions.split(sweep)}>
        {words.sheets.splitAreas}
      </Minor>
      <Minor tip={words.sheets.flipTip} disabled={!sweep.shapes} onClick={() => actions.flip(sweep.id)}>
        {words.sheets.flip}
      </Minor>
      {next && (
        <Minor tip={words.sheets.joinTip(next.name)} onClick={() => actions.join([sweep, next])}>
          {words.sheets.joinWith(next.number)}
        </Minor>
      )}
      <a href={`/api/frames/${desk.frame.id}/sweeps/${sweep.id}/mask`} download={`${sweep.name} mask.png`}>
        <Minor as="span" tip={words.sheets.saveMaskTip}>
          {words.sheets.saveMask}
        </Minor>
      </a>
    </Flex>
  );
}
