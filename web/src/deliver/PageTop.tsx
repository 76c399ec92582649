import { Box, Flex, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import type { Frame } from "../api/client";
import { Mark } from "../theme/Mark";
import * as words from "../words/words";

type Props = { shoot: string; frames: Frame[]; other: { to: "deliver" | "ledger"; says: string } };

/** The head of a page about one frame or some. */
export function PageTop({ shoot, frames, other }: Props) {
  const [only] = frames;
  const one = frames.length === 1 && only;
  const ids = frames.map((frame) => frame.id).join(",");
  return (
    <Flex
      as="header"
      align="center"
      gap="14px"
      px="14px"
      h="44px"
      borderBottom="1px solid"
      borderColor="line"
      flexShrink={0}
    >
      <Link to="/" aria-label={words.app.allShoots}>
        <Mark />
      </Link>
      <Text color="soft">
        {shoot} /{" "}
        <b style={{ color: "var(--chakra-colors-ink)" }}>
          {one ? one.name : words.deliver.pictures(frames.length)}
        </b>
      </Text>
      <Box flex="1" />
      <Link to={one ? `/frames/${one.id}/${other.to}` : `/${other.to}?frames=${ids}`}>{other.says}</Link>
      <Link to={one ? `/frames/${one.id}` : "/"}>
        {one ? words.deliver.backToTheDesk : words.deliver.backToTheShoots}
      </Link>
    </Flex>
  );
}
