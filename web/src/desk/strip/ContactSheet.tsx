import { Box, Flex, Text } from "@chakra-ui/react";
import type { Sister } from "../../api/client";
import { cropUrl, stateOf } from "../../api/views";
import { Act, Lead } from "../../theme/controls";
import { Sheet } from "../../theme/Sheet";
import * as words from "../../words/words";
import type { Room } from "../doing/commands/command";
import { carriedTo, toApprove, toJudge } from "../reading/series";
import { useStateOf } from "../state/state";

/** The frames that were carried to, large and as they are now, each to be approved or sent back. */
export function ContactSheet({ room }: { room: Room }) {
  const { strip, set } = useStateOf("strip", "set");
  const from = strip ?? room.desk.frame.id;
  const series = carriedTo(room.series ?? []);
  const open = series.filter(toApprove).map((sister) => sister.id);
  const close = () => set({ contactSheet: false });
  return (
    <Sheet title={words.strip.contactSheet} wide="1120px" close={close} keys="F9">
      <Flex align="center" gap="10px" mb="10px" fontSize="14px">
        <Lead disabled={!open.length} onClick={() => room.actions.approve(from, open, true)}>
          {words.strip.approve(open.length || "")}
        </Lead>
        <Text color="soft">{toJudge(series)}</Text>
      </Flex>
      <Box display="grid" gridTemplateColumns="repeat(3, minmax(0, 1fr))" gap="14px" role="list">
        {series.map((sister) => (
          <Result key={sister.id} sister={sister} from={from} room={room} close={close} />
        ))}
      </Box>
    </Sheet>
  );
}

type ResultProps = { sister: Sister; from: number; room: Room; close: () => void };

function Result({ sister, from, room, close }: ResultProps) {
  const all = { x: 0, y: 0, width: sister.width, height: sister.height };
  const filling = sister.filling.length > 0;
  const open = toApprove(sister);
  const good = !open && !filling && !sister.marked.length;
  const how = filling
    ? words.strip.filling
    : open
      ? words.strip.notApprovedYet
      : good
        ? words.strip.approved
        : words.strip.notFilledYet;
  const goThere = () => {
    close();
    room.go(sister.id, sister.doubtful[0]);
  };
  return (
    <Box role="listitem" aria-label={`${sister.name}, ${how}`}>
      <button
        type="button"
        onClick={goThere}
        aria-label={words.strip.open(sister.name)}
        style={{ display: "block", width: "100%" }}
      >
        <img
          src={cropUrl(sister.id, { ...stateOf(sister), takes: sister.offered }, all, 700)}
          alt=""
          style={{ display: "block", width: "100%", aspectRatio: `${sister.width} / ${sister.height}` }}
        />
      </button>
      <Flex align="center" gap="7px" mt="5px" fontSize="13px">
        <Text fontWeight={700} truncate>
          {sister.name.replace(/\.[^.]+$/, "")}
        </Text>
        <Text color="soft" truncate flex="1">
          {good ? `✓ ${words.named.frameState[sister.state]}` : how}
        </Text>
        <Act
          h="24px"
          fontSize="13px"
          disabled={!open}
          onClick={() => room.actions.approve(from, [sister.id], true)}
        >
          {words.strip.good}
        </Act>
        <Act
          h="24px"
          fontSize="13px"
          disabled={filling}
          tip={words.strip.notGoodTip}
          onClick={() => room.actions.approve(from, [sister.id], false)}
        >
          {words.strip.notGood}
        </Act>
      </Flex>
    </Box>
  );
}
