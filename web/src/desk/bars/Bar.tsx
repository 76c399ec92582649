import { Flex } from "@chakra-ui/react";
import type { ReactNode } from "react";

/** The bar under the picture, never over it: what is needed for the step at hand. */
export function Bar({ label, children }: { label: string; children: ReactNode }) {
  return (
    <Flex
      role="toolbar"
      aria-label={label}
      align="center"
      justify="center"
      gap="3px"
      css={{ "& button": { paddingInline: "6px" } }}
      h="42px"
      px="8px"
      flexShrink={0}
      borderTop="1px solid"
      borderColor="line"
      bg="panel"
      whiteSpace="nowrap"
    >
      {children}
    </Flex>
  );
}
