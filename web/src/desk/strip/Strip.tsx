import { Box, Flex, Spacer, Text } from "@chakra-ui/react";
import { useContext, useEffect, useRef } from "react";
import type { Sister } from "../../api/client";
import { Act, Lead } from "../../theme/controls";
import * as words from "../../words/words";
import type { Room } from "../doing/commands/command";
import { Do, TheRoom } from "../doing/commands/Do";
import { doubts, waiting } from "../reading/series";
import { chosen } from "../reading/sweeps";
import { useStateOf } from "../state/state";
import { ContactSheet } from "./ContactSheet";
import { StripFrame } from "./StripFrame";

/** The shoot's frames as a row of small pictures, with what landed where. */
export function Strip() {
  const room = useContext(TheRoom);
  const { strip, contactSheet } = useStateOf("strip", "contactSheet");
  const row = useRef<HTMLDivElement>(null);
  const here = room?.desk.frame.id;
  useEffect(() => {
    row.current
      ?.querySelector(`[data-frame="${here}"]`)
      ?.scrollIntoView({ inline: "nearest", block: "nearest" });
  }, [here]);
  if (!room || strip === null) return null;
  return (
    <Box
      as="section"
      aria-label={words.strip.strip}
      flexShrink={0}
      borderTop="1px solid"
      borderColor="line"
      h="164px"
    >
      <Flex align="center" gap="8px" px="14px" h="38px" fontSize="13px">
        {strip === here ? <FromHere room={room} /> : <FromElsewhere room={room} from={strip} />}
        <Spacer />
        <AtOnce series={room.series ?? []} from={strip} />
      </Flex>
      {contactSheet && <ContactSheet room={room} />}
      <Flex
        ref={row}
        overflowX="auto"
        gap="8px"
        px="14px"
        pb="6px"
        role="list"
        aria-label={words.strip.framesOfTheShoot}
      >
        {room.series?.map((sister) => (
          <StripFrame key={sister.id} sister={sister} room={room} />
        ))}
      </Flex>
    </Box>
  );
}

/** What is carried from this frame, and what changed since it was. */
function FromHere({ room }: { room: Room }) {
  const { sisters, selected } = useStateOf("sisters", "selected");
  const sweep = chosen(room.desk, selected);
  const series = room.series ?? [];
  const others = sisters.filter((each) => each !== room.desk.frame.id);
  const behind = series.filter((each) => each.behind.length > 0);
  const changed = [...new Set(behind.flatMap((each) => each.behind))];
  return (
    <>
      <Do id="carry" as={Lead} />
      <Do id="carryAndFill" />
      <Text color="soft" truncate>
        {sweep ? <Named>{sweep.name}</Named> : all(room.desk.sweeps.length)}{" "}
        {words.strip.onto(others.length, Math.max(series.length - 1, 0))}
      </Text>
      {behind.length > 0 && (
        <Act
          tip={words.strip.bringAlongTip}
          onClick={() =>
            room.actions.carry(
              changed,
              behind.map((each) => each.id),
            )
          }
        >
          {words.strip.bringAlong(behind.length)}
        </Act>
      )}
    </>
  );
}

/** From which frame sweeps were carried, while another one is on the desk. */
function FromElsewhere({ room, from }: { room: Room; from: number }) {
  const { set } = useStateOf("set");
  const name = room.series?.find((each) => each.id === from)?.name;
  return (
    <>
      <Text color="soft" truncate>
        {words.strip.carriedOver} <Named>{name ?? "…"}</Named>
      </Text>
      <Act onClick={() => set({ strip: room.desk.frame.id, sisters: [] })}>{words.strip.fromThisFrame}</Act>
    </>
  );
}

/** What is done to the whole series at once. */
function AtOnce({ series, from }: { series: Sister[]; from: number }) {
  const { sisters, set } = useStateOf("sisters", "set");
  const doubtful = doubts(series).length;
  const others = sisters.filter((each) => each !== from);
  return (
    <>
      <Do id="contactSheet" />
      <Do id="settle" />
      <Do id="nextDoubtful">{doubtful ? words.strip.doubtfulNext(doubtful) : words.strip.noneDoubtful}</Do>
      <Do id="fillSeries">{words.strip.fillAll(waiting(series, others, from) || "")}</Do>
      <Act aria-label={words.strip.foldTheStrip} onClick={() => set({ strip: null, sisters: [] })}>
        ✕
      </Act>
    </>
  );
}

const Named = ({ children }: { children: string }) => (
  <b style={{ color: "var(--chakra-colors-ink)" }}>{children}</b>
);

const all = (count: number) => (count ? words.strip.allSweeps(count) : words.strip.nothingMarked);
