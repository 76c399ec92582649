import { Box, Flex, Text } from "@chakra-ui/react";
import type { Sister } from "../../api/client";
import { cropUrl } from "../../api/views";
import { Act, Lead } from "../../theme/controls";
import { Sheet } from "../../theme/Sheet";
import type { Room } from "../doing/commands/command";
import { carriedTo } from "../reading/series";
import { useStateOf } from "../state/state";

/** The frames that were carried to, large and as they are now, each to be approved or sent back. */
export function ContactSheet({ room }: { room: Room }) {
  const { set } = useStateOf("set");
  const series = carriedTo(room.series ?? []);
  const open = series
    .filter((sister) => sister.state === "doubtful" && !sister.filling.length)
    .map((sister) => sister.id);
  const close = () => set({ contactSheet: false });
  return (
    <Sheet title="Contact sheet" wide="1120px" close={close} keys="F9">
      <Flex align="center" gap="10px" mb="10px" fontSize="14px">
        <Lead disabled={!open.length} onClick={() => room.actions.approve(open, true)}>
          Approve {open.length || ""}
        </Lead>
        <Text color="soft">
          {open.length ? "All that are not approved yet; or one by one." : "All of them are approved."}
        </Text>
      </Flex>
      <Box display="grid" gridTemplateColumns="repeat(3, minmax(0, 1fr))" gap="14px" role="list">
        {series.map((sister) => (
          <Result key={sister.id} sister={sister} room={room} close={close} />
        ))}
      </Box>
    </Sheet>
  );
}

function Result({ sister, room, close }: { sister: Sister; room: Room; close: () => void }) {
  const all = { x: 0, y: 0, width: sister.width, height: sister.height };
  const good = sister.state !== "doubtful";
  const filling = sister.filling.length > 0;
  const open = () => {
    close();
    room.go(sister.id, sister.doubtful[0]);
  };
  return (
    <Box
      role="listitem"
      aria-label={`${sister.name}, ${filling ? "filling" : good ? "approved" : "not approved yet"}`}
    >
      <button
        type="button"
        onClick={open}
        aria-label={`Open ${sister.name}`}
        style={{ display: "block", width: "100%" }}
      >
        <img
          src={cropUrl(sister.id, { revision: sister.revision }, all, 700)}
          alt=""
          style={{ display: "block", width: "100%", aspectRatio: `${sister.width} / ${sister.height}` }}
        />
      </button>
      <Flex align="center" gap="7px" mt="5px" fontSize="13px">
        <Text fontWeight={700} truncate>
          {sister.name.replace(/\.[^.]+$/, "")}
        </Text>
        <Text color="soft" truncate flex="1">
          {filling ? "filling" : good ? `✓ ${sister.state}` : "not approved yet"}
        </Text>
        <Act
          h="24px"
          fontSize="13px"
          disabled={good || filling}
          onClick={() => room.actions.approve([sister.id], true)}
        >
          Good
        </Act>
        <Act
          h="24px"
          fontSize="13px"
          disabled={filling}
          tip="Back to as shot: its takes stay, to be chosen from or put right by hand"
          onClick={() => room.actions.approve([sister.id], false)}
        >
          Not good
        </Act>
      </Flex>
    </Box>
  );
}
