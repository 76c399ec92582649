import { Box, Text } from "@chakra-ui/react";
import * as words from "../words/words";

/** Words that let somebody in, or prove who sent something: they are told now and never again. */
export function ShownOnce({ says, secret }: { says: string; secret: string }) {
  return (
    <Box mt="10px" role="status">
      <Text>{words.library.copyItNow(says)}</Text>
      <Text as="code" userSelect="all" wordBreak="break-all" bg="sheet" px="6px" py="2px">
        {secret}
      </Text>
    </Box>
  );
}
