import { Box, Text } from "@chakra-ui/react";

/** Words that let somebody in, or prove who sent something: they are told now and never again. */
export function ShownOnce({ says, words }: { says: string; words: string }) {
  return (
    <Box mt="10px" role="status">
      <Text>{says} Copy it now, it is not shown again:</Text>
      <Text as="code" userSelect="all" wordBreak="break-all" bg="sheet" px="6px" py="2px">
        {words}
      </Text>
    </Box>
  );
}
