import { Box, Flex, Text, useMediaQuery } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { showDesk, useDesk, useScouts, useSeries } from "../api/queries";
import { Act } from "../theme/controls";
import { SMALL } from "../theme/small";
import { words } from "../words/words";
import { GuideBar } from "./bars/GuideBar";
import { MarkingBar } from "./bars/MarkingBar";
import { OfferBar } from "./bars/OfferBar";
import { StepBar } from "./bars/StepBar";
import { TopBar } from "./bars/TopBar";
import { TouchBar } from "./bars/TouchBar";
import { PictureView } from "./canvas/PictureView";
import { isTouch } from "./canvas/touching";
import type { PictureViewer } from "./canvas/viewer";
import { useActions } from "./doing/actions";
import { TheRoom } from "./doing/commands/Do";
import { useKeys } from "./doing/commands/keys";
import { chosen, isBusy } from "./reading/sweeps";
import { SheetSide, TraySide } from "./Sides";
import { KeySheet } from "./sheets/KeySheet";
import { useStateOf } from "./state/state";
import { useAddress } from "./state/useAddress";
import { Strip } from "./strip/Strip";
import { Wall } from "./wall/Wall";

/** The desk: one picture, its job sheet, and the takes of the sweep at hand. */
export function DeskPage() {
  const frame = Number(useParams().frameId);
  const desk = useDesk(frame);
  const actions = useActions(frame);
  const [under, setUnder] = useState<PictureViewer | null>(null);
  const [leader, setLeader] = useState<PictureViewer | null>(null);
  const navigate = useNavigate();
  const queries = useQueryClient();
  const arriving = useRef<string | null>(null);
  const { folded, help, problem, done, taken, tool, offer, strip, wall, selected, set, select } = useStateOf(
    "folded",
    "help",
    "problem",
    "done",
    "taken",
    "tool",
    "offer",
    "strip",
    "wall",
    "selected",
    "set",
    "select",
  );
  const scouts = useScouts(frame);
  const series = useSeries(strip);
  const here = desk.data && chosen(desk.data, selected);
  const onWall = wall && here?.takes.length ? here : null;
  const viewer = onWall ? leader : under;
  const go = useCallback(
    (to: number, sweep?: string) => {
      if (to === frame) return select(sweep ?? null);
      arriving.current = sweep ?? null;
      navigate(`/frames/${to}`);
    },
    [frame, navigate, select],
  );
  const room = useMemo(
    () =>
      desk.data
        ? { desk: desk.data, scouts: scouts.data, series: series.data, actions, viewer, go, open: navigate }
        : null,
    [desk.data, scouts.data, series.data, actions, viewer, go, navigate],
  );
  useKeys(room);

  // biome-ignore lint/correctness/useExhaustiveDependencies: another frame starts with nothing chosen
  useEffect(() => {
    select(arriving.current);
    arriving.current = null;
    set({
      problem: null,
      done: null,
      taken: null,
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

  useAddress(desk.data, viewer);
  // In a small window the bar has the room below the job sheet as well, so that it keeps to one row.
  const [narrow] = useMediaQuery([SMALL], { ssr: false });

  // What takes long is told where the window cannot be seen, too.
  const busy = desk.data?.sweeps.filter(isBusy) ?? [];
  const far = busy.length && busy.reduce((sum, each) => sum + (each.run?.progress ?? 0), 0) / busy.length;
  const title = desk.data ? words.desk.title(desk.data.frame.name) : words.app.name;
  useEffect(() => {
    document.title = busy.length ? `${words.units.percent(Math.round(100 * far))} · ${title}` : title;
    return () => {
      document.title = words.app.name;
    };
  }, [busy.length, far, title]);

  // The frames next to it are there when they are gone to.
  const at = desk.data?.neighbours.findIndex((each) => each.id === frame) ?? -1;
  const [before, after] = [desk.data?.neighbours[at - 1]?.id, desk.data?.neighbours[at + 1]?.id];
  useEffect(() => {
    for (const next of [after, before])
      if (next !== undefined) void queries.prefetchQuery({ ...showDesk(next), staleTime: 5_000 });
  }, [before, after, queries]);

  // What is there stays when it cannot be fetched anew: nobody's picture goes because a server is slow to answer.
  if (desk.error && !desk.data) {
    return (
      <Box p="30px">
        <Text role="alert" fontWeight={700} color="alarm">
          {desk.error.message}
        </Text>
        <Flex gap="3" mt="4">
          <Act onClick={() => desk.refetch()}>{words.app.tryAgain}</Act>
          <Link to="/">{words.app.toTheShoots}</Link>
        </Flex>
      </Box>
    );
  }
  if (!room) return <Box h="100%" bg="#757575" />;
  const bar =
    folded || offer || onWall ? null : isTouch(tool) ? <TouchBar /> : <MarkingBar desk={room.desk} />;
  return (
    <TheRoom value={room}>
      <Flex direction="column" h="100vh" overflow="hidden">
        {!folded && <TopBar desk={room.desk} viewer={viewer} go={go} />}
        <Flex flex="1" minH="0">
          {!folded && <SheetSide desk={room.desk} actions={actions} viewer={viewer} />}
          <Flex direction="column" flex="1" minW="0">
            <Flex direction="column" flex="1" minH="0" position="relative">
              <PictureView key={room.desk.frame.id} desk={room.desk} actions={actions} onViewer={setUnder} />
              {onWall && <Wall desk={room.desk} sweep={onWall} under={under} onViewer={setLeader} />}
            </Flex>
            {problem && <Word bad says={problem} close={() => set({ problem: null })} />}
            {!problem && desk.error && (
              <Word
                bad
                says={desk.error.message}
                act={words.app.tryAgain}
                close={() => void desk.refetch()}
              />
            )}
            {done && <Word says={done} close={() => set({ done: null })} />}
            {taken && <Taken says={taken.says} back={taken.back ?? actions.undo} />}
            <StepBar desk={room.desk} />
            {!folded && !onWall && <GuideBar desk={room.desk} />}
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

/** What was just taken away, and the way back. */
function Taken({ says, back }: { says: string; back: () => void }) {
  const { set } = useStateOf("set");
  return (
    <Flex
      role="status"
      px="14px"
      py="5px"
      bg="raised"
      gap="3"
      align="center"
      borderTop="1px solid"
      borderColor="line"
    >
      <Text flex="1" overflowWrap="anywhere">
        {says}
      </Text>
      <Act
        onClick={() => {
          set({ taken: null });
          back();
        }}
      >
        {words.desk.bringBack}
      </Act>
      <Act onClick={() => set({ taken: null })}>{words.app.close}</Act>
    </Flex>
  );
}

type WordProps = { says: string; bad?: boolean; act?: string; close: () => void };

/** A sentence under the picture, until it is closed. */
function Word({ says, bad, act = words.app.close, close }: WordProps) {
  return (
    <Flex
      role={bad ? "alert" : "status"}
      px="14px"
      py="6px"
      bg={bad ? "alarmed" : "raised"}
      gap="3"
      align="center"
      borderTop="1px solid"
      borderColor={bad ? "alarm" : "ink"}
    >
      <Text color={bad ? "alarm" : "ink"} fontWeight={700} flex="1" overflowWrap="anywhere">
        {says}
      </Text>
      <Act onClick={close}>{act}</Act>
    </Flex>
  );
}
