import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import type { Desk } from "../api/client";

/** Which sweeps are in what is delivered, and which are not. */
export function InIt({ desk }: { desk: Desk }) {
  const kept = desk.sweeps.filter((s) => s.pick !== null && s.shown);
  const open = desk.sweeps.filter((s) => s.pick === null || !s.shown);
  return (
    <>
      <Heading size="sm" mt="16px" mb="4px">
        In it
      </Heading>
      <Sweeps text={kept.length ? "" : "No sweep is kept yet: this is the picture as shot."} list={kept} />
      {open.length > 0 && (
        <>
          <Heading size="sm" mt="12px" mb="4px">
            Not in it
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
          {why && <Text color="soft">{sweep.shown ? "no take picked" : "switched off"}</Text>}
        </Flex>
      ))}
    </Box>
  );
}
