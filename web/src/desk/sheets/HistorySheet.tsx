import { Box, Flex, Image, Text } from "@chakra-ui/react";
import { useInfiniteQuery } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef, useState } from "react";
import { api, ask, type Desk, type Step } from "../../api/client";
import { cropUrl, framed } from "../../api/views";
import { Minor } from "../../theme/controls";
import { tipped } from "../../theme/tip";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";
import { Do } from "../doing/commands/Do";
import { together, told } from "../reading/steps";

const ACROSS = 44;

// So many steps are asked for at a time; and how near the last of them must come for more.
const PAGE = 100;
const NEAR = 10;
const TALL = 48;

/** Everything that was done to the picture, newest first; any step can be gone to, undone ones too. Of thousands only
 * those that are seen are there, and are asked for when they are nearly seen. */
export function HistorySheet({ desk, actions }: { desk: Desk; actions: Actions }) {
  return (
    <>
      <Flex p="8px 12px" direction="column" align="start" borderBottom="1px solid" borderColor="line">
        <Do id="takeUp" />
        {desk.sweeps.some((each) => each.takes.length > 0) && (
          <Text fontSize="13px" lineHeight="1.3" color="soft" mt="5px">
            {words.sheets.beforeTones}
          </Text>
        )}
      </Flex>
      <Lines desk={desk} go={actions.goTo} />
    </>
  );
}

function Lines({ desk, go }: { desk: Desk; go: (revision: number) => void }) {
  const steps = useSteps(desk);
  // Strokes of a mark that are shown one by one.
  const [apart, setApart] = useState<number[]>([]);
  const lines = together(steps.data?.pages.flat() ?? []).flatMap((group) =>
    group.length === 1 || group.some((step) => apart.includes(step.revision))
      ? group.map((step) => [step])
      : [group],
  );
  const list = useRef<HTMLDivElement>(null);
  const seen = useVirtualizer({
    count: lines.length,
    estimateSize: () => TALL,
    overscan: NEAR,
    getScrollElement: () => list.current?.closest("[role=tabpanel]") ?? null,
    scrollMargin: list.current?.offsetTop ?? 0,
    getItemKey: (index) => lines[index]?.[0]?.revision ?? index,
  });
  const shown = seen.getVirtualItems();
  const last = shown.at(-1)?.index ?? 0;
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = steps;
  useEffect(() => {
    if (hasNextPage && !isFetchingNextPage && last >= lines.length - NEAR) void fetchNextPage();
  }, [hasNextPage, isFetchingNextPage, fetchNextPage, last, lines.length]);
  return (
    <Box
      ref={list}
      position="relative"
      role="list"
      aria-label={words.sheets.history}
      h={`${seen.getTotalSize()}px`}
    >
      {shown.map((row) => {
        const group = lines[row.index] as [Step, ...Step[]];
        const own = group.map((step) => step.revision);
        return (
          <Box
            key={row.key}
            ref={seen.measureElement}
            data-index={row.index}
            position="absolute"
            left="0"
            right="0"
            top={`${row.start - seen.options.scrollMargin}px`}
          >
            <Line desk={desk} step={group[0]} strokes={group.length} go={go}>
              {group.length > 1 && (
                <Minor tip={words.sheets.eachTip} onClick={() => setApart([...apart, ...own])}>
                  {words.sheets.each}
                </Minor>
              )}
            </Line>
          </Box>
        );
      })}
    </Box>
  );
}

/** The steps of a frame, newest first, page by page. */
function useSteps(desk: Desk) {
  return useInfiniteQuery({
    queryKey: ["history", desk.frame.id, desk.revision],
    initialPageParam: undefined as number | undefined,
    queryFn: ({ pageParam }) =>
      ask(
        api.GET("/api/frames/{frame_id}/history", {
          params: {
            path: { frame_id: desk.frame.id },
            query: { newest: true, limit: PAGE, after: pageParam },
          },
        }),
      ),
    getNextPageParam: (page) => (page.length === PAGE ? page.at(-1)?.revision : undefined),
    placeholderData: (before) => before,
    // A state that is gone back to has more after it than when it was the last.
    staleTime: 0,
  });
}

type LineProps = {
  desk: Desk;
  step: Step;
  strokes?: number;
  go: (revision: number) => void;
  children?: React.ReactNode;
};

function Line({ desk, step, strokes, go, children }: LineProps) {
  return (
    <Flex
      role="listitem"
      align="center"
      borderBottom="1px solid"
      borderColor="line"
      borderLeft="4px solid"
      borderLeftColor={step.now ? "marigold" : "transparent"}
      bg={step.now ? "raised" : "transparent"}
      aria-current={step.now ? "step" : undefined}
    >
      <button
        type="button"
        onClick={() => go(step.revision)}
        {...tipped(step.on ? words.sheets.toStep : words.sheets.undoneStep)}
        style={{ flex: 1, minWidth: 0, textAlign: "left", padding: "5px 10px" }}
      >
        <Flex gap="8px" align="center">
          <Image
            src={cropUrl(
              desk.frame.id,
              { revision: step.revision, provisional: desk.frame.provisional },
              framed(step.box, desk.frame, 1.4),
              2 * ACROSS,
            )}
            alt=""
            loading="lazy"
            w={`${ACROSS}px`}
            h={`${Math.round(ACROSS / 1.4)}px`}
            objectFit="cover"
          />
          <Box minW="0">
            <Text lineClamp={2} color={step.on ? "ink" : "soft"}>
              {told(step, strokes)}
            </Text>
            <Text fontSize="13px" color="soft">
              {step.now ? words.sheets.now : step.on ? time(step.made_at) : words.sheets.undone}
            </Text>
          </Box>
        </Flex>
      </button>
      {children}
    </Flex>
  );
}

const time = (at: string) => new Date(at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });
