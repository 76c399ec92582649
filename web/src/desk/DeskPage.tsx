import { Box, Flex, Text } from "@chakra-ui/react";
import { useEffect, useMemo, useState } from "react";
import { Link, useParams } from "react-router";
import { useDesk, useScouts } from "../api/queries";
import { Act } from "../theme/controls";
import { MarkingBar } from "./bars/MarkingBar";
import { OfferBar } from "./bars/OfferBar";
import { TopBar } from "./bars/TopBar";
import { TouchBar } from "./bars/TouchBar";
import { PictureView } from "./canvas/PictureView";
import { isTouch } from "./canvas/touching";
import type { PictureViewer } from "./canvas/viewer";
import { useActions } from "./doing/actions";
import { TheRoom } from "./doing/commands/Do";
import { useKeys } from "./doing/commands/keys";
import { JobSheet } from "./sheets/JobSheet";
import { KeySheet } from "./sheets/KeySheet";
import { useStateOf } from "./state/state";
import { TakesTray } from "./tray/TakesTray";

/** The desk: one picture, its job sheet, and the takes of the sweep at hand. */
export function DeskPage() {
  const frame = Number(useParams().frameId);
  const desk = useDesk(frame);
  const actions = useActions(frame);
  const [viewer, setViewer] = useState<PictureViewer | null>(null);
  const { folded, help, problem, tool, offer, set, select } = useStateOf(
    "folded",
    "help",
    "problem",
    "tool",
    "offer",
    "set",
    "select",
  );
  const scouts = useScouts(frame);
  const room = useMemo(
    () => (desk.data ? { desk: desk.data, scouts: scouts.data, actions, viewer } : null),
    [desk.data, scouts.data, actions, viewer],
  );
  useKeys(room);

  // biome-ignore lint/correctness/useExhaustiveDependencies: another frame starts with nothing chosen
  useEffect(() => {
    select(null);
    set({
      problem: null,
      pending: [],
      laid: [],
      source: null,
      cautions: [],
      asShot: false,
      before: false,
      find: null,
      pointing: false,
    });
    // Scouts look while the photographer does, so that finds are there when they are asked for.
    actions.scout();
  }, [frame, actions]);

  if (desk.error) {
    return (
      <Box p="30px">
        <Text role="alert" fontWeight={700} color="alarm">
          {desk.error.message}
        </Text>
        <Flex gap="3" mt="4">
          <Act onClick={() => desk.refetch()}>Try again</Act>
          <Link to="/">To the shoots</Link>
        </Flex>
      </Box>
    );
  }
  if (!room) return <Box h="100%" bg="#757575" />;
  return (
    <TheRoom value={room}>
      <Flex direction="column" h="100vh" overflow="hidden">
        {!folded && <TopBar desk={room.desk} viewer={viewer} />}
        <Flex flex="1" minH="0">
          {!folded && <JobSheet desk={room.desk} actions={actions} viewer={viewer} />}
          <Flex direction="column" flex="1" minW="0">
            <PictureView key={room.desk.frame.id} desk={room.desk} actions={actions} onViewer={setViewer} />
            {problem && (
              <Flex
                role="alert"
                px="14px"
                py="6px"
                bg="#fbe9e7"
                gap="3"
                align="center"
                borderTop="1px solid #8f1d14"
              >
                <Text color="alarm" fontWeight={700} flex="1">
                  {problem}
                </Text>
                <Act onClick={() => set({ problem: null })}>Close</Act>
              </Flex>
            )}
            {offer && <OfferBar desk={room.desk} offer={offer} actions={actions} />}
            {!folded && !offer && (isTouch(tool) ? <TouchBar /> : <MarkingBar desk={room.desk} />)}
          </Flex>
        </Flex>
        {!folded && <TakesTray desk={room.desk} actions={actions} viewer={viewer} />}
        {help && <KeySheet room={room} />}
      </Flex>
    </TheRoom>
  );
}
