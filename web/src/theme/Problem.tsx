import { Text } from "@chakra-ui/react";

/** What went wrong, in a sentence. */
export function Problem({ text }: { text: string }) {
  return (
    <Text role="alert" color="alarm" fontWeight={700} my="2">
      {text}
    </Text>
  );
}
