import { Box, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { Fragment } from "react";
import { Act, Key } from "../theme/controls";
import { KEYS } from "./keys";
import { type Surround, useDeskState } from "./state";

/** Every key, and the tone round the picture. */
export function KeySheet() {
  const { set, surround } = useDeskState();
  return (
    <Box
      role="dialog"
      aria-label="Keys"
      position="fixed"
      right="16px"
      top="54px"
      w="430px"
      maxH="calc(100vh - 70px)"
      overflowY="auto"
      bg="sheet"
      border="1px solid"
      borderColor="ink"
      borderRadius="4px"
      p="16px"
      zIndex={20}
    >
      <Flex justify="space-between" align="center" mb="10px">
        <Heading size="sm">Keys</Heading>
        <Act autoFocus onClick={() => set({ help: false })} keys="?">
          Close
        </Act>
      </Flex>
      <Grid templateColumns="170px 1fr" rowGap="5px">
        {KEYS.map(([key, does]) => (
          <Fragment key={key}>
            <span>
              <Key>{key}</Key>
            </span>
            <Text>{does}</Text>
          </Fragment>
        ))}
      </Grid>
      <Flex gap="2" mt="14px" align="center">
        <Text flex="1">Round the picture</Text>
        {(["grey", "dark", "light"] as Surround[]).map((tone) => (
          <Act key={tone} pressed={surround === tone} onClick={() => set({ surround: tone })}>
            {tone}
          </Act>
        ))}
      </Flex>
    </Box>
  );
}
