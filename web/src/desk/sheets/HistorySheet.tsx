import { Box, Flex, Image, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { api, ask, type Desk } from "../../api/client";
import { cropUrl, framed } from "../../api/views";
import type { Actions } from "../doing/actions";
import { Do } from "../doing/commands/Do";

const ACROSS = 44;

/** Everything that was done to the picture, newest first; any step can be gone to, undone ones too. */
export function HistorySheet({ desk, actions }: { desk: Desk; actions: Actions }) {
  const steps = useQuery({
    queryKey: ["history", desk.frame.id, desk.revision],
    queryFn: () =>
      ask(api.GET("/api/frames/{frame_id}/history", { params: { path: { frame_id: desk.frame.id } } })),
    placeholderData: (before) => before,
  });
  return (
    <>
      <Flex p="8px 12px" borderBottom="1px solid" borderColor="line">
        <Do id="takeUp" />
      </Flex>
      <Box as="ol" listStyleType="none" aria-label="History">
        {(steps.data ?? []).toReversed().map((step) => (
          <Box
            as="li"
            key={step.revision}
            borderBottom="1px solid"
            borderColor="line"
            borderLeft="4px solid"
            borderLeftColor={step.now ? "marigold" : "transparent"}
            bg={step.now ? "raised" : "transparent"}
            aria-current={step.now ? "step" : undefined}
          >
            <button
              type="button"
              onClick={() => actions.goTo(step.revision)}
              title={step.on ? "Go to this step" : "Undone: go to it again"}
              style={{ width: "100%", textAlign: "left", padding: "5px 10px" }}
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
                  <Text truncate color={step.on ? "ink" : "soft"}>
                    {step.parent === null ? "as shot" : step.title}
                  </Text>
                  <Text fontSize="13px" color="soft">
                    {step.now ? "now" : step.on ? time(step.made_at) : "undone"}
                  </Text>
                </Box>
              </Flex>
            </button>
          </Box>
        ))}
      </Box>
    </>
  );
}

const time = (at: string) =>
  new Date(at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", second: "2-digit" });
