import { Box, Flex, Text, useMediaQuery } from "@chakra-ui/react";
import { Link, useParams } from "react-router";
import type { Desk } from "../api/client";
import { Act } from "../theme/controls";
import { SMALL } from "../theme/small";
import * as words from "../words/words";
import { GuideBar } from "./bars/GuideBar";
import { MarkingBar } from "./bars/MarkingBar";
import { Messages } from "./bars/Messages";
import { OfferBar } from "./bars/OfferBar";
import { StepBar } from "./bars/StepBar";
import { TopBar } from "./bars/TopBar";
import { TouchBar } from "./bars/TouchBar";
import { PictureView } from "./canvas/PictureView";
import { isTouch } from "./canvas/touching";
import { TheRoom } from "./doing/commands/Do";
import { useKeys } from "./doing/commands/keys";
import { SheetSide, TraySide } from "./Sides";
import { KeySheet } from "./sheets/KeySheet";
import { useStateOf } from "./state/state";
import { useAddress } from "./state/useAddress";
import { Strip } from "./strip/Strip";
import { useNextFrames } from "./useNextFrames";
import { useRoom } from "./useRoom";
import { useTitle } from "./useTitle";
import { Wall } from "./wall/Wall";

/** Only buttons and links take a pointer: whatever lies over the picture can be painted through. */
const PASSED_THROUGH = { pointerEvents: "none", "& button, & a": { pointerEvents: "auto" } };

/** The desk: one picture, its job sheet, and the takes of the sweep at hand. */
export function DeskPage() {
  const { desk, room, onWall, under, setUnder, setLeader } = useRoom(Number(useParams().frameId));
  const { folded, help, offer, strip } = useStateOf("folded", "help", "offer", "strip");
  useKeys(room);
  useAddress(desk.data, room?.viewer ?? null);
  useTitle(desk.data);
  useNextFrames(desk.data);
  // In a small window the bar has the room below the job sheet as well, so that it keeps to one row.
  const [narrow] = useMediaQuery([SMALL], { ssr: false });

  // What is there stays when it cannot be fetched anew: nobody's picture goes because a server is slow to answer.
  if (desk.error && !desk.data) return <Lost error={desk.error} again={() => void desk.refetch()} />;
  if (!room) return <Box h="100%" bg="#757575" />;
  const { actions, viewer } = room;
  const bar = !folded && !offer && !onWall && <Tools desk={room.desk} />;
  return (
    <TheRoom value={room}>
      <Flex direction="column" h="100vh" overflow="hidden">
        {!folded && <TopBar desk={room.desk} viewer={viewer} go={room.go} />}
        <Flex flex="1" minH="0">
          {!folded && <SheetSide desk={room.desk} actions={actions} viewer={viewer} />}
          <Flex direction="column" flex="1" minW="0">
            <Flex direction="column" flex="1" minH="0" position="relative">
              <PictureView key={room.desk.frame.id} desk={room.desk} actions={actions} onViewer={setUnder} />
              {onWall && <Wall desk={room.desk} sweep={onWall} under={under} onViewer={setLeader} />}
              {/* Over the foot of the picture: what comes by itself must not move it, nor stop a stroke. */}
              <Box position="absolute" bottom="0" left="0" right="0" zIndex={2} css={PASSED_THROUGH}>
                <Messages lost={desk.error} again={() => void desk.refetch()} undo={actions.undo} />
                <StepBar desk={room.desk} />
                {!folded && !onWall && <GuideBar desk={room.desk} />}
              </Box>
            </Flex>
            {offer && <OfferBar desk={room.desk} offer={offer} actions={actions} />}
            {!narrow && bar}
          </Flex>
        </Flex>
        {narrow && bar}
        {strip !== null && !folded && <Strip />}
        {!folded && strip === null && !onWall && (
          <TraySide desk={room.desk} actions={actions} viewer={viewer} />
        )}
        {help && <KeySheet room={room} />}
      </Flex>
    </TheRoom>
  );
}

/** What the hand has: for marking, or for touching up. */
function Tools({ desk }: { desk: Desk }) {
  const { tool } = useStateOf("tool");
  return isTouch(tool) ? <TouchBar /> : <MarkingBar desk={desk} />;
}

function Lost({ error, again }: { error: Error; again: () => void }) {
  return (
    <Box p="30px">
      <Text role="alert" fontWeight={700} color="alarm">
        {error.message}
      </Text>
      <Flex gap="3" mt="4">
        <Act onClick={again}>{words.app.tryAgain}</Act>
        <Link to="/">{words.app.toTheShoots}</Link>
      </Flex>
    </Box>
  );
}
