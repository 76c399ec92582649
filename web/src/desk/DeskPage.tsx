import { Box, Flex, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import { useDesk } from "../api/queries";
import { Act } from "../theme/controls";
import { useActions } from "./actions";
import { PictureView } from "./canvas/PictureView";
import { isTouch } from "./canvas/touching";
import type { PictureViewer } from "./canvas/viewer";
import { JobSheet } from "./JobSheet";
import { KeySheet } from "./KeySheet";
import { useKeys } from "./keys";
import { MarkingBar } from "./MarkingBar";
import { OfferBar } from "./OfferBar";
import { useDeskState } from "./state";
import { TakesTray } from "./TakesTray";
import { TopBar } from "./TopBar";
import { TouchBar } from "./TouchBar";

/** The desk: one picture, its job sheet, and the takes of the sweep at hand. */
export function DeskPage() {
  const frame = Number(useParams().frameId);
  const desk = useDesk(frame);
  const actions = useActions(frame);
  const [viewer, setViewer] = useState<PictureViewer | null>(null);
  const [zoom, setZoom] = useState(1);
  const { folded, help, problem, tool, offer, set, select } = useDeskState();
  useKeys(desk.data, actions, viewer);

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
  if (!desk.data) return <Box h="100%" bg="#757575" />;
  return (
    <Flex direction="column" h="100vh" overflow="hidden">
      {!folded && <TopBar desk={desk.data} actions={actions} viewer={viewer} zoom={zoom} />}
      <Flex flex="1" minH="0">
        {!folded && <JobSheet desk={desk.data} actions={actions} viewer={viewer} />}
        <Flex direction="column" flex="1" minW="0">
          <PictureView
            key={desk.data.frame.id}
            desk={desk.data}
            actions={actions}
            onViewer={setViewer}
            onZoom={setZoom}
          />
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
          {offer && <OfferBar desk={desk.data} offer={offer} actions={actions} />}
          {!folded &&
            !offer &&
            (isTouch(tool) ? <TouchBar /> : <MarkingBar desk={desk.data} actions={actions} />)}
        </Flex>
      </Flex>
      {!folded && <TakesTray desk={desk.data} actions={actions} viewer={viewer} />}
      {help && <KeySheet />}
    </Flex>
  );
}
