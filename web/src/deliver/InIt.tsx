import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import type { Desk, Sweep } from "../api/client";
import * as words from "../words/words";

/** Which sweeps are in what is delivered, and which are not. */
export function InIt({ desk }: { desk: Desk }) {
  const kept = desk.sweeps.filter((s) => s.standing !== null && s.shown);
  const open = desk.sweeps.filter((s) => s.standing === null || !s.shown);
  return (
    <>
      <Heading size="sm" mt="16px" mb="4px">
        {words.deliver.inIt}
      </Heading>
      <Sweeps text={kept.length ? "" : words.deliver.nothingIn} list={kept} />
      {open.length > 0 && (
        <>
          <Heading size="sm" mt="12px" mb="4px">
            {words.deliver.notInIt}
          </Heading>
          <Sweeps text="" list={open} />
        </>
      )}
    </>
  );
}

/** What there is to say of a sweep: that nobody picked its take, or why it is not in the picture. */
function note(sweep: Sweep): string {
  if (!sweep.shown) return words.deliver.switchedOff;
  if (sweep.state === "as shot") return words.named.sweepState["as shot"];
  if (sweep.standing === null) return words.deliver.noTakePicked;
  return sweep.provisional ? words.named.sweepState.provisional : "";
}

function Sweeps({ list, text }: { list: Desk["sweeps"]; text: string }) {
  return (
    <Box as="ul" listStyleType="none">
      {text && (
        <Text as="li" color="soft">
          {text}
        </Text>
      )}
      {list.map((sweep) => (
        <Flex as="li" key={sweep.id} gap="8px">
          <Text fontWeight={700} w="18px">
            {sweep.number}
          </Text>
          <Text>{sweep.name}</Text>
          <Text color="soft">{note(sweep)}</Text>
        </Flex>
      ))}
    </Box>
  );
}
