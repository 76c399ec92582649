import { Flex, Text } from "@chakra-ui/react";
import { type ReactNode, useEffect } from "react";
import type { Desk } from "../../api/client";
import { Lead } from "../../theme/controls";
import * as words from "../../words/words";
import type { PictureViewer } from "../canvas/viewer";
import type { Actions } from "../doing/actions";
import { Do } from "../doing/commands/Do";
import { standing } from "../reading/look";
import { chosen, isBusy, isDecided } from "../reading/sweeps";
import { useDeskState, useStateOf } from "../state/state";
import { Comparing } from "./Comparing";
import { FillTrouble } from "./FillTrouble";
import { SecondLook } from "./SecondLook";
import { AsShot, Coming, TakeCard } from "./TakeCard";

type Props = { desk: Desk; actions: Actions; viewer: PictureViewer | null };

/** The takes of the chosen sweep, the picture as shot first, all at one zoom and position. */
export function TakesTray({ desk, actions, viewer }: Props) {
  const { selected, viewed, set } = useStateOf("selected", "viewed", "set");
  const sweep = chosen(desk, selected);
  // What is looked at stays, even if the second look comes to like another take better.
  const offered = sweep?.state === "choose" ? sweep.best : null;
  useEffect(() => {
    if (offered !== null && useDeskState.getState().viewed === null) set({ viewed: offered });
  }, [offered, set]);
  if (!sweep) return <Quiet>{hint(desk)}</Quiet>;
  if (!sweep.takes.length && sweep.state === "marked")
    return <Quiet>{words.tray.markedOnly(sweep.name)}</Quiet>;
  const stands = standing(sweep, viewed);
  return (
    <Tray>
      <Flex gap="10px" overflowX="auto" flex="1" minW="0">
        <AsShot desk={desk} sweep={sweep} stands={stands} />
        {sweep.takes.map((take) => (
          <TakeCard key={take.id} desk={desk} sweep={sweep} take={take} stands={stands} actions={actions} />
        ))}
        {isBusy(sweep) && <Coming sweep={sweep} />}
        {sweep.run?.state === "failed" && <FillTrouble sweep={sweep} actions={actions} />}
      </Flex>
      <Flex direction="column" gap="5px" w="150px" flexShrink={0}>
        <Do id="pick" as={Lead}>
          {isDecided(sweep, stands)
            ? words.tray.picked
            : stands === 0
              ? words.tray.leaveAsShot
              : words.tray.pickThisTake}
        </Do>
        <Flex gap="6px">
          <Do id="wall" flex="1" />
          <Do id="before" flex="1" />
        </Flex>
        <Flex gap="6px">
          <Do id="previousTake" flex="1" aria-label={words.tray.previousTake} />
          <Do id="nextTake" flex="1" aria-label={words.tray.nextTake} />
        </Flex>
      </Flex>
      <Comparing sweep={sweep} stands={stands} />
      <SecondLook desk={desk} sweep={sweep} actions={actions} viewer={viewer} />
    </Tray>
  );
}

function hint(desk: Desk): string {
  if (!desk.sweeps.length) return words.tray.noSweeps;
  return words.tray.noneChosen;
}

/** How tall the tray is until somebody says otherwise. */
export const TALL = "clamp(108px, min(15.5vh, 24vh - 68px), 250px)";

function Tray({ children }: { children: ReactNode }) {
  const { trayTall: tall } = useStateOf("trayTall");
  return (
    <Flex
      as="section"
      aria-label={words.tray.takes}
      id="takes-tray"
      h="var(--tray)"
      flexShrink={0}
      css={{ "--tray": tall ? `min(${tall}px, 60vh)` : TALL }}
      px="14px"
      py="6px"
      gap="10px"
    >
      {children}
    </Flex>
  );
}

function Quiet({ children }: { children: ReactNode }) {
  return (
    <Tray>
      <Text color="soft" m="auto" textAlign="center">
        {children}
      </Text>
    </Tray>
  );
}
