import { Box, Flex, Text } from "@chakra-ui/react";
import { useRef } from "react";
import type { Shoot } from "../api/client";
import { Act } from "../theme/controls";
import * as words from "../words/words";
import { Budget } from "./Budget";
import { ACCEPTED } from "./files";
import { ShootName } from "./ShootName";

type Props = {
  shoot: Shoot;
  /** Whether files are held over the shoot. */
  over: boolean;
  watching: boolean;
  watch: (watching: boolean) => void;
  take: (files: File[]) => void;
};

/** What a shoot is called and holds, and how more comes into it. */
export function ShootHead({ shoot, over, watching, watch, take }: Props) {
  const chooser = useRef<HTMLInputElement>(null);
  return (
    <Flex align="baseline" gap="4px 12px" mb="10px" wrap="wrap" whiteSpace="nowrap">
      <ShootName shoot={shoot} />
      <Text color="soft">{words.shoots.pictures(shoot.frames.length)}</Text>
      <Budget shoot={shoot} />
      <Box flex="1" />
      <Act pressed={watching} tip={words.shoots.watchTip} onClick={() => watch(!watching)}>
        {shoot.watched ? words.shoots.watching : words.shoots.watch}
      </Act>
      <Text color="soft" display={over ? "block" : { base: "none", xl: "block" }}>
        {over ? words.shoots.letGoToAdd : words.shoots.dropHere}
      </Text>
      <Act onClick={() => chooser.current?.click()}>{words.shoots.chooseFiles}</Act>
      <input
        ref={chooser}
        type="file"
        multiple
        hidden
        accept={ACCEPTED}
        aria-label={words.shoots.picturesFor(shoot.name)}
        onChange={(event) => {
          take([...(event.target.files ?? [])]);
          event.target.value = "";
        }}
      />
    </Flex>
  );
}
