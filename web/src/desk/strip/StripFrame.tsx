import { Box, Flex, Text } from "@chakra-ui/react";
import type { Sister } from "../../api/client";
import { cropUrl, stateOf } from "../../api/views";
import { Small } from "../../theme/controls";
import { tipped } from "../../theme/tip";
import * as words from "../../words/words";
import { clicked } from "../doing/commands/carrying";
import type { Room } from "../doing/commands/command";
import { now } from "../doing/commands/table";
import { became, elsewhere, missing } from "../reading/series";
import { useStateOf } from "../state/state";

const TALL = 84;

/** One frame of the strip: where sweeps landed is drawn on its small picture. */
export function StripFrame({ sister, room }: { sister: Sister; room: Room }) {
  const { strip, sisters } = useStateOf("strip", "sisters");
  const wide = Math.round((TALL * sister.width) / sister.height);
  const open = sister.id === room.desk.frame.id;
  const picked = sisters.includes(sister.id);
  const state = words.named.frameState[sister.state];
  const said = sister.id === strip ? words.strip.carriedFromHere : became(sister);
  return (
    <Box role="listitem" data-frame={sister.id} flexShrink={0} w={`${Math.max(wide, 118)}px`} fontSize="12px">
      <button
        type="button"
        aria-label={`${sister.name}: ${state}${said ? `; ${said}` : ""}`}
        aria-current={open || undefined}
        aria-pressed={picked}
        {...tipped(words.strip.frameTip(sister.name))}
        onClick={(event) => clicked(now(room), sister.id, event)}
        style={{ display: "block", cursor: "pointer" }}
      >
        <Picture sister={sister} wide={wide} edge={open ? "open" : picked ? "picked" : "plain"} />
      </button>
      <Flex gap="5px" mt="2px">
        <Text fontWeight={open ? 700 : 400} truncate flex="1" minW="0">
          {sister.name.replace(/\.[^.]+$/, "")}
        </Text>
        <Text color="soft" whiteSpace="nowrap">
          {state}
        </Text>
      </Flex>
      <Text
        color={sister.carrying === "failed" && !elsewhere(sister) ? "alarm" : "soft"}
        truncate
        data-tip={sister.error ?? said}
      >
        {said}
        {sister.id !== strip && strip === room.desk.frame.id && <LookNear sister={sister} room={room} />}
      </Text>
    </Box>
  );
}

const EDGES = {
  open: "3px solid var(--chakra-colors-ink)",
  picked: "3px dashed #b87a06",
  plain: "1px solid var(--chakra-colors-edge)",
};

function Picture({ sister, wide, edge }: { sister: Sister; wide: number; edge: keyof typeof EDGES }) {
  const all = { x: 0, y: 0, width: sister.width, height: sister.height };
  return (
    <Box position="relative" w={`${wide}px`} h={`${TALL}px`} outline={EDGES[edge]} outlineOffset="-1px">
      <img
        src={cropUrl(sister.id, stateOf(sister), all, wide * 2)}
        alt=""
        loading="lazy"
        width={wide}
        height={TALL}
        style={{ display: "block", width: wide, height: TALL, objectFit: "cover" }}
      />
      <svg
        viewBox={`0 0 ${sister.width} ${sister.height}`}
        preserveAspectRatio="none"
        aria-hidden="true"
        style={{ position: "absolute", inset: 0, width: "100%", height: "100%" }}
      >
        {sister.landed.map(
          ({ sweep, box, verdict }) => box && <Place key={sweep} box={box} sure={verdict === "landed"} />,
        )}
      </svg>
    </Box>
  );
}

/** What did not land in a frame is looked for more widely. */
function LookNear({ sister, room }: { sister: Sister; room: Room }) {
  const gone = missing(sister);
  if (gone.length === 0) return null;
  return (
    <>
      {" · "}
      <Small
        fontSize="12px"
        tip={words.strip.lookNearTip}
        onClick={() => room.actions.carry(gone, [sister.id], { wide: true })}
      >
        {words.strip.lookNear}
      </Small>
    </>
  );
}

/** Where a sweep landed: in full lines if that is sure, in broken ones if it is not. */
function Place({ box, sure }: { box: NonNullable<Sister["landed"][number]["box"]>; sure: boolean }) {
  const lines = {
    vectorEffect: "non-scaling-stroke" as const,
    fill: "none",
    strokeDasharray: sure ? undefined : "3 2",
  };
  return (
    <>
      <rect {...box} {...lines} stroke="#1b1b1a" strokeWidth="3" />
      <rect {...box} {...lines} stroke="#f2a71b" strokeWidth="1.5" />
    </>
  );
}
