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
      // On a narrow window it takes a second row: nothing is cut off.
      wrap="wrap"
      css={{
        "& button": { paddingInline: "6px" },
        // One row on a window of 1280 pixels.
        "@media (max-width: 1500px)": {
          fontSize: "13px",
          "& button": { paddingInline: "5px", fontSize: "13px" },
        },
      }}
      minH="42px"
      px="8px"
      py="4px"
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
