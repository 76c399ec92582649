import { Box, Flex, Image, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Desk, type Step } from "../../api/client";
import { cropUrl, framed } from "../../api/views";
import { Minor } from "../../theme/controls";
import type { Actions } from "../doing/actions";
import { Do } from "../doing/commands/Do";
import { together, told } from "../reading/steps";

const ACROSS = 44;

/** Everything that was done to the picture, newest first; any step can be gone to, undone ones too. */
export function HistorySheet({ desk, actions }: { desk: Desk; actions: Actions }) {
  const steps = useQuery({
    queryKey: ["history", desk.frame.id, desk.revision],
    queryFn: () =>
      ask(api.GET("/api/frames/{frame_id}/history", { params: { path: { frame_id: desk.frame.id } } })),
    placeholderData: (before) => before,
    // A state that is gone back to has more after it than when it was the last.
    staleTime: 0,
  });
  // Strokes of a mark that are shown one by one.
  const [apart, setApart] = useState<number[]>([]);
  return (
    <>
      <Flex p="8px 12px" borderBottom="1px solid" borderColor="line">
        <Do id="takeUp" />
      </Flex>
      <Box as="ol" listStyleType="none" aria-label="History">
        {together(steps.data ?? []).map((group) => {
          const [newest] = group as [Step, ...Step[]];
          const own = group.map((step) => step.revision);
          if (group.length === 1 || own.some((each) => apart.includes(each)))
            return group.map((step) => (
              <Line key={step.revision} desk={desk} step={step} go={actions.goTo} />
            ));
          return (
            <Line key={newest.revision} desk={desk} step={newest} strokes={group.length} go={actions.goTo}>
              <Minor tip="Show every stroke" onClick={() => setApart([...apart, ...own])}>
                each
              </Minor>
            </Line>
          );
        })}
      </Box>
    </>
  );
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
      as="li"
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
        title={step.on ? "Go to this step" : "Undone: go to it again"}
        style={{ flex: 1, minWidth: 0, textAlign: "left", padding: "5px 10px" }}
      >
        <Flex gap="8px" align="center">
          <Image
            src={cropUrl(
              desk.frame.id,
              { revision: step.revision },
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
              {step.now ? "now" : step.on ? time(step.made_at) : "undone"}
            </Text>
          </Box>
        </Flex>
      </button>
      {children}
    </Flex>
  );
}

const time = (at: string) => new Date(at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });
