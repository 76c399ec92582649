import { Box, Flex, Image, Input, Text } from "@chakra-ui/react";
import { useEffect, useRef, useState } from "react";
import type { Desk, Sweep } from "../../api/client";
import { cropUrl, framed } from "../../api/views";
import { Small } from "../../theme/controls";
import { tipped } from "../../theme/tip";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";
import { Do } from "../doing/commands/Do";
import { pictured, standing } from "../reading/look";
import { said } from "../reading/said";
import { faultsOf, openSnags } from "../reading/snags";
import { SweepOptions } from "./SweepOptions";

type Props = {
  sweep: Sweep;
  desk: Desk;
  actions: Actions;
  chosen: boolean;
  /** Left out too when the picture is looked at as before. */
  also: boolean;
  choose: (more: boolean) => void;
};
const CROP = "30px";

/** One sweep on the job sheet: number, before and after, name, state; what can be done to it once it is chosen. */
export function SweepLine({ sweep, desk, actions, chosen, also, choose }: Props) {
  return (
    <Box
      as="li"
      px="10px"
      py="7px"
      borderBottom="1px solid"
      borderColor="line"
      borderLeft="4px solid"
      borderLeftColor={chosen ? "marigold" : also ? "ink" : "transparent"}
      bg={chosen ? "raised" : "transparent"}
      aria-current={chosen}
      data-testid={`sweep-${sweep.number}`}
    >
      <button
        type="button"
        onClick={(event) => choose(event.shiftKey)}
        {...tipped(words.sheets.sweepTip)}
        style={{ display: "flex", gap: 6, textAlign: "left", width: "100%", opacity: sweep.shown ? 1 : 0.55 }}
      >
        <Flag sweep={sweep} />
        <BeforeAndAfter sweep={sweep} desk={desk} />
        <State sweep={sweep} />
      </button>
      {chosen && <Opened sweep={sweep} desk={desk} actions={actions} />}
    </Box>
  );
}

/** A chosen sweep: where it came from, what can be done to it and how it is filled; or its name, while that is typed. */
function Opened({ sweep, desk, actions }: { sweep: Sweep; desk: Desk; actions: Actions }) {
  const [naming, setNaming] = useState(false);
  const { carried } = sweep;
  const named = (name: string) => {
    setNaming(false);
    if (name && name !== sweep.name) actions.change(sweep, { name });
  };
  return (
    <>
      {!naming && <Doings sweep={sweep} actions={actions} rename={() => setNaming(true)} />}
      {carried && (
        <Text fontSize="12px" color="soft" pl="28px" mt="3px">
          {words.sheets.carriedFrom(
            carried.name.replace(/\.[^.]+$/, ""),
            Math.round(100 * carried.confidence),
          )}
        </Text>
      )}
      {naming ? (
        <Name sweep={sweep} done={named} />
      ) : (
        <SweepOptions sweep={sweep} desk={desk} actions={actions} />
      )}
    </>
  );
}

function BeforeAndAfter({ sweep, desk }: { sweep: Sweep; desk: Desk }) {
  const take = standing(sweep, null);
  const state = pictured(desk);
  const box = framed(sweep.box, desk.frame, 1);
  const crop = (which: number) =>
    cropUrl(desk.frame.id, sweep.takes.length ? { ...state, sweep: sweep.id, take: which } : state, box, 80);
  return (
    <Flex gap="1px" flexShrink={0}>
      <Image src={crop(0)} alt="" w={CROP} h={CROP} objectFit="cover" />
      {take ? (
        <Image src={crop(take)} alt="" w={CROP} h={CROP} objectFit="cover" />
      ) : (
        <Box w={CROP} h={CROP} bg="blank" />
      )}
    </Flex>
  );
}

/** Whether another take came to stand in a sweep by itself while it was shown: the best, once all were there. */
function useGaveWay({ provisional, standing }: Sweep): boolean {
  const last = useRef(provisional ? standing : null);
  const [gaveWay, setGaveWay] = useState(false);
  useEffect(() => {
    const now = provisional ? standing : null;
    setGaveWay((known) => now !== null && (known || (last.current !== null && last.current !== now)));
    last.current = now;
  }, [provisional, standing]);
  return gaveWay;
}

/** What a sweep is called, how far it is, and what is doubtful of it. */
function State({ sweep }: { sweep: Sweep }) {
  const gaveWay = useGaveWay(sweep);
  const snags = faultsOf(openSnags(sweep, standing(sweep, null))).length;
  return (
    <Box minW="0" flex="1">
      <Text fontWeight={700} truncate data-tip={sweep.name}>
        {sweep.name}
      </Text>
      <Text fontSize="13px" lineHeight="1.2" color={sweep.state === "failed" ? "alarm" : "soft"}>
        {said(sweep)}
        <span role="status">{gaveWay && ` · ${words.sheets.betterTake}`}</span>
        {sweep.below_changed && ` · ${words.sheets.outOfStep}`}
        {sweep.carried?.doubtful && ` · ${words.sheets.doubtful}`}
        {snags > 0 && ` · ${words.sheets.snags(snags)}`}
      </Text>
    </Box>
  );
}

/** The number that the sweep's flag has on the picture, dark once a take is kept. */
function Flag({ sweep }: { sweep: Sweep }) {
  const kept = sweep.state === "kept";
  return (
    <Box
      w="22px"
      h="22px"
      flexShrink={0}
      borderRadius="3px"
      border="1px solid var(--chakra-colors-ink)"
      bg={kept ? "ink" : "sheet"}
      color={kept ? "sheet" : "ink"}
      fontWeight={700}
      fontSize="12px"
      display="grid"
      placeItems="center"
    >
      {sweep.number}
    </Box>
  );
}

/** What can be done to a sweep as a whole. */
function Doings({ sweep, actions, rename }: { sweep: Sweep; actions: Actions; rename: () => void }) {
  return (
    <Flex columnGap="8px" mt="5px" wrap="wrap" fontSize="13px">
      <Do
        id="shown"
        as={Small}
        aria-label={sweep.shown ? words.sheets.switchOff(sweep.name) : words.sheets.switchOn(sweep.name)}
      >
        {sweep.shown ? words.sheets.off : words.sheets.on}
      </Do>
      <Small tip={words.sheets.renameTip} aria-label={words.sheets.renameNamed(sweep.name)} onClick={rename}>
        {words.sheets.rename}
      </Small>
      <Small
        tip={words.sheets.twiceTip}
        aria-label={words.sheets.twiceNamed(sweep.name)}
        onClick={() => actions.duplicate(sweep)}
      >
        {words.sheets.twice}
      </Small>
      <Do id="remove" as={Small} aria-label={words.sheets.deleteNamed(sweep.name)} />
    </Flex>
  );
}

function Name({ sweep, done }: { sweep: Sweep; done: (name: string) => void }) {
  return (
    <Input
      autoFocus
      size="xs"
      mt="5px"
      bg="sheet"
      aria-label={words.sheets.nameOfTheSweep}
      defaultValue={sweep.name}
      onBlur={(event) => done(event.target.value.trim())}
      onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
    />
  );
}
