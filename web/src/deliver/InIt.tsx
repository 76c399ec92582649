import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import type { Desk } from "../api/client";
import * as words from "../words/words";

/** Which sweeps are in what is delivered, and which are not. */
export function InIt({ desk }: { desk: Desk }) {
  const kept = desk.sweeps.filter((s) => s.pick !== null && s.shown);
  const open = desk.sweeps.filter((s) => s.pick === null || !s.shown);
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
          <Sweeps text="" list={open} why />
        </>
      )}
    </>
  );
}

function Sweeps({ list, text, why }: { list: Desk["sweeps"]; text: string; why?: boolean }) {
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
          {why && (
            <Text color="soft">{sweep.shown ? words.deliver.noTakePicked : words.deliver.switchedOff}</Text>
          )}
        </Flex>
      ))}
    </Box>
  );
}
