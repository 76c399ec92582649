import { Dialog, Flex, Heading, Portal } from "@chakra-ui/react";
import type { ReactNode } from "react";
import * as words from "../words/words";
import { Act } from "./controls";

type Props = {
  title: string;
  wide: string;
  close: () => void;
  /** The key that closes it, besides Escape. */
  keys?: string;
  children: ReactNode;
};

/** A sheet that lies over the page until it is closed; the focus stays in it and goes back afterwards. */
export function Sheet({ title, wide, close, keys, children }: Props) {
  return (
    <Dialog.Root
      open
      motionPreset="none"
      onOpenChange={({ open }) => !open && close()}
      scrollBehavior="inside"
      lazyMount
    >
      <Portal>
        <Dialog.Positioner>
          <Dialog.Content
            w={wide}
            maxW="calc(100vw - 32px)"
            maxH="calc(100vh - 32px)"
            my="auto"
            bg="sheet"
            color="ink"
            border="1px solid"
            borderColor="ink"
            borderRadius="4px"
            boxShadow="none"
            aria-label={title}
          >
            <Flex justify="space-between" align="center" p="14px" pb="8px">
              <Dialog.Title asChild>
                <Heading size="sm">{title}</Heading>
              </Dialog.Title>
              <Dialog.CloseTrigger asChild position="static">
                <Act keys={keys ?? "Escape"}>{words.app.close}</Act>
              </Dialog.CloseTrigger>
            </Flex>
            <Dialog.Body p="14px" pt="0" overflowY="auto">
              {children}
            </Dialog.Body>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
