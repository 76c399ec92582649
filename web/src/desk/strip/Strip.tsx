import { Box, Flex, Spacer, Text } from "@chakra-ui/react";
import { useContext, useEffect, useRef } from "react";
import type { Sister } from "../../api/client";
import { Act, Lead } from "../../theme/controls";

import * as words from "../../words/words";
import { Do, TheRoom } from "../doing/commands/Do";
import { doubts, waiting } from "../reading/series";
import { chosen } from "../reading/sweeps";
import { useStateOf } from "../state/state";
import { ContactSheet } from "./ContactSheet";
import { StripFrame } from "./StripFrame";

/** The shoot's frames as a row of small pictures, with what landed where. */
export function Strip() {
  const room = useContext(TheRoom);
  const { strip, sisters, selected, contactSheet, set } = useStateOf(
    "strip",
    "sisters",
    "selected",
    "contactSheet",
    "set",
  );
  const row = useRef<HTMLDivElement>(null);
  const here = room?.desk.frame.id;
  useEffect(() => {
    row.current
      ?.querySelector(`[data-frame="${here}"]`)
      ?.scrollIntoView({ inline: "nearest", block: "nearest" });
  }, [here]);
  if (!room || strip === null) return null;
  const series = room.series ?? [];
  const from = series.find((each) => each.id === strip);
  const sweep = chosen(room.desk, selected);
  const others = sisters.filter((each) => each !== strip);
  const behind = series.filter((each) => each.behind.length > 0);
  const doubtful = doubts(series).length;
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
        {strip === here ? (
          <>
            <Do id="carry" as={Lead} />
            <Do id="carryAndFill" />
            <Text color="soft" truncate>
              {sweep ? (
                <b style={{ color: "var(--chakra-colors-ink)" }}>{sweep.name}</b>
              ) : (
                all(room.desk.sweeps.length)
              )}{" "}
              {words.strip.onto(others.length, Math.max(series.length - 1, 0))}
            </Text>
          </>
        ) : (
          <>
            <Text color="soft" truncate>
              {words.strip.carriedOver}{" "}
              <b style={{ color: "var(--chakra-colors-ink)" }}>{from?.name ?? "…"}</b>
            </Text>
            <Act onClick={() => set({ strip: here ?? null, sisters: [] })}>{words.strip.fromThisFrame}</Act>
          </>
        )}
        {behind.length > 0 && strip === here && (
          <Act
            tip={words.strip.bringAlongTip}
            onClick={() =>
              room.actions.carry(
                [...new Set(behind.flatMap((each) => each.behind))],
                behind.map((each) => each.id),
              )
            }
          >
            {words.strip.bringAlong(behind.length)}
          </Act>
        )}
        <Spacer />
        <Do id="contactSheet" />
        <Do id="settle" />
        <Do id="nextDoubtful">{doubtful ? words.strip.doubtfulNext(doubtful) : words.strip.noneDoubtful}</Do>
        <Do id="fillSeries">{words.strip.fillAll(waiting(series, others, strip) || "")}</Do>
        <Act aria-label={words.strip.foldTheStrip} onClick={() => set({ strip: null, sisters: [] })}>
          ✕
        </Act>
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
        {series.map((sister: Sister) => (
          <StripFrame key={sister.id} sister={sister} room={room} />
        ))}
      </Flex>
    </Box>
  );
}

const all = (count: number) => (count ? words.strip.allSweeps(count) : words.strip.nothingMarked);
