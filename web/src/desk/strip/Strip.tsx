import { Box, Flex, Spacer, Text } from "@chakra-ui/react";
import { useContext, useEffect, useRef } from "react";
import type { Sister } from "../../api/client";
import { Act, Lead } from "../../theme/controls";
import { counted } from "../../theme/counted";
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
    <Box as="section" aria-label="Strip" flexShrink={0} borderTop="1px solid" borderColor="line" h="164px">
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
              onto {others.length ? `${others.length} chosen` : `all ${Math.max(series.length - 1, 0)} other`}{" "}
              frames
            </Text>
          </>
        ) : (
          <>
            <Text color="soft" truncate>
              What was carried over from{" "}
              <b style={{ color: "var(--chakra-colors-ink)" }}>{from?.name ?? "…"}</b>
            </Text>
            <Act onClick={() => set({ strip: here ?? null, sisters: [] })}>From this frame</Act>
          </>
        )}
        {behind.length > 0 && strip === here && (
          <Act
            tip="These sweeps have changed here since they were carried over"
            onClick={() =>
              room.actions.carry(
                [...new Set(behind.flatMap((each) => each.behind))],
                behind.map((each) => each.id),
              )
            }
          >
            Bring {counted(behind.length, "frame")} along
          </Act>
        )}
        <Spacer />
        <Do id="contactSheet" />
        <Do id="settle" />
        <Do id="nextDoubtful">{doubtful ? `${doubtful} doubtful: next` : "None doubtful"}</Do>
        <Do id="fillSeries">Fill all {waiting(series, others, strip) || ""}</Do>
        <Act aria-label="Fold the strip" onClick={() => set({ strip: null, sisters: [] })}>
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
        aria-label="Frames of the shoot"
      >
        {series.map((sister: Sister) => (
          <StripFrame key={sister.id} sister={sister} room={room} />
        ))}
      </Flex>
    </Box>
  );
}

const all = (count: number) => (count ? `All ${count} sweeps` : "Nothing is marked yet to go");
