import { Box, Flex, Image, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import type { Frame, Standing } from "../api/client";
import { cropUrl, stateOf } from "../api/views";
import { tipped } from "../theme/tip";
import * as words from "../words/words";
import { SIGNS } from "./among";

type Props = {
  frame: Frame;
  standing: Standing | undefined;
  chosen: boolean;
  /** A click with Shift or Ctrl, or on the tick: it is chosen instead of opened. */
  choose: (keys: { shift: boolean; one: boolean }) => void;
};

/** A frame of a shoot: a small picture, its name, how far it is. */
export function FrameCard({ frame, standing, chosen, choose }: Props) {
  return (
    <Box position="relative" className="card">
      <Link
        to={`/frames/${frame.id}`}
        {...tipped(words.shoots.frameTip)}
        draggable={false}
        onClick={(event) => {
          if (!event.shiftKey && !event.ctrlKey && !event.metaKey) return;
          event.preventDefault();
          choose({ shift: event.shiftKey, one: event.ctrlKey || event.metaKey });
        }}
      >
        <Picture frame={frame} chosen={chosen} />
        <Flex mt="5px" gap="8px">
          <Text fontWeight={700} truncate flex="1">
            {frame.name}
          </Text>
          {standing && (
            <Text fontSize="13px" whiteSpace="nowrap" color={standing.state === "untouched" ? "soft" : "ink"}>
              <span aria-hidden>{SIGNS[standing.state]}</span> {words.named.frameState[standing.state]}
            </Text>
          )}
        </Flex>
        <Text color="soft" fontSize="13px" truncate>
          {words.shoots.frameFacts(frame.width, frame.height, frame.format.toUpperCase(), frame.depth)}
        </Text>
      </Link>
      <input
        type="checkbox"
        checked={chosen}
        aria-label={words.shoots.choose(frame.name)}
        style={{
          position: "absolute",
          left: 10,
          top: 10,
          width: 24,
          height: 24,
          accentColor: "var(--chakra-colors-ink)",
        }}
        onChange={() => choose({ shift: false, one: true })}
      />
    </Box>
  );
}

function Picture({ frame, chosen }: { frame: Frame; chosen: boolean }) {
  const all = { x: 0, y: 0, width: frame.width, height: frame.height };
  return (
    <Box
      bg="#757575"
      borderRadius="2px"
      h="165px"
      display="grid"
      placeItems="center"
      p="8px"
      outline={chosen ? "3px solid var(--chakra-colors-ink)" : "none"}
    >
      <Image
        src={cropUrl(frame.id, stateOf(frame), all, 440)}
        alt=""
        maxH="149px"
        maxW="100%"
        loading="lazy"
        decoding="async"
        draggable={false}
      />
    </Box>
  );
}
