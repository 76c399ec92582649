import { Flex, Text } from "@chakra-ui/react";
import type { Desk } from "../../api/client";
import { Small } from "../../theme/controls";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";
import { progressOf } from "../reading/removing";
import { useStateOf } from "../state/state";

/** How far a removal of several things is, as one. */
export function Removing({ desk, actions }: { desk: Desk; actions: Actions }) {
  const { removing } = useStateOf("removing");
  if (!removing || removing.sweeps.length < 2) return null;
  const progress = progressOf(desk, removing.sweeps, (Date.now() - removing.since) / 1_000);
  if (!progress) return null;
  const left = progress.left === null ? null : words.units.span(progress.left);
  return (
    <Flex
      role="group"
      aria-label={words.sheets.removingAll}
      px="12px"
      py="5px"
      gap="8px"
      align="center"
      borderBottom="1px solid"
      borderColor="line"
      fontSize="13px"
      wrap="wrap"
    >
      <Text flex="1">{words.sheets.removing(progress.done, progress.of, left)}</Text>
      <Small
        tip={words.sheets.cancelAllTip}
        onClick={() => progress.runs.forEach((run) => void actions.cancel(run))}
      >
        {words.sheets.cancelAll}
      </Small>
      <progress
        value={progress.share}
        aria-label={words.sheets.removingAll}
        style={{ width: "100%", accentColor: "var(--chakra-colors-ink)" }}
      />
    </Flex>
  );
}
