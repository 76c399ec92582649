import { Box, Flex, Text } from "@chakra-ui/react";
import type { Sweep } from "../../api/client";
import { Act, Choice, Key, Lead, Minor } from "../../theme/controls";
import * as words from "../../words/words";
import { Do } from "../doing/commands/Do";
import { isDecided } from "../reading/sweeps";
import { useStateOf } from "../state/state";
import { COUNTS, type Count } from "./arrange";

/** Which take stands and what it is called; visit: show the sweep in all of them. */
type Props = { sweep: Sweep; stands: number; name: string; visit: () => void };

/** Under the wall: how many hang, how near they are, and the pick. */
export function WallBar({ sweep, stands, name, visit }: Props) {
  const { out, hang, set } = useStateOf("out", "hang", "set");
  const gone = sweep.takes.filter((take) => out.includes(take.id)).length;
  return (
    <Flex
      role="toolbar"
      aria-label={words.wall.wall}
      align="center"
      justify="center"
      gap="6px"
      wrap="wrap"
      px="8px"
      py="6px"
      bg="panel"
      borderTop="1px solid"
      borderColor="line"
    >
      <Text color="soft" fontSize="13px">
        {words.wall.atATime}
      </Text>
      <Choice<Count>
        label={words.wall.takesAtATime}
        value={hang}
        among={COUNTS}
        wide="64px"
        onChange={(next) => set({ hang: next })}
      />
      <Do id="previousTake" aria-label={words.wall.previousTake} />
      <Do id="nextTake" aria-label={words.wall.nextTake} />
      <Do id="out" />
      {gone > 0 && (
        <Minor h="28px" onClick={() => set({ out: [] })}>
          {words.wall.bringBack(gone)}
        </Minor>
      )}
      <Box w="12px" />
      <Do id="fit" />
      <Do id="full" />
      <Do id="twice" />
      <Act tip={words.wall.theSweepTip} onClick={visit}>
        {words.wall.theSweep}
      </Act>
      <Box w="12px" />
      <Do id="wall" pressed={undefined}>
        {words.wall.backToTheDesk}
      </Do>
      <Do id="pick" as={Lead}>
        {isDecided(sweep, stands)
          ? words.wall.picked
          : stands === 0
            ? words.wall.leaveAsShot
            : words.wall.pick(name.toLowerCase())}{" "}
        <Key>{words.keys.enter}</Key>
      </Do>
    </Flex>
  );
}
