import { Box, chakra, Flex, Image, Text } from "@chakra-ui/react";
import { useEffect, useRef } from "react";
import type { Desk, Snag, Sweep, Take } from "../../api/client";
import { cropUrl, framed } from "../../api/views";
import { Minor } from "../../theme/controls";
import { tipped } from "../../theme/tip";
import * as words from "../../words/words";
import type { PictureViewer } from "../canvas/viewer";
import type { Actions } from "../doing/actions";
import { Do } from "../doing/commands/Do";
import { pictured, standing } from "../reading/look";
import { madeBy, madeSo } from "../reading/made";
import { type Fault, fades, faultsOf, MENDS, openSnags, triedBefore } from "../reading/snags";
import { isBusy } from "../reading/sweeps";
import { useStateOf } from "../state/state";

type Props = { desk: Desk; sweep: Sweep; actions: Actions; viewer: PictureViewer | null };

/** How tall the head is that stays while faults are scrolled. */
const HEAD = "28px";

/** What the program finds wrong with the take that stands: a line a fault, the worst first, each with a way to mend it. */
export function SecondLook({ desk, sweep, actions, viewer }: Props) {
  const { viewed } = useStateOf("viewed");
  const stands = standing(sweep, viewed);
  const take = sweep.takes.find((each) => each.id === stands);
  const faults = faultsOf(openSnags(sweep, stands));
  return (
    <Box
      as="section"
      aria-label={words.tray.secondLook}
      w="252px"
      flexShrink={0}
      borderLeft="1px solid"
      borderColor="line"
      pl="10px"
      overflowY="auto"
    >
      <Flex justify="space-between" align="center" h={HEAD} gap="4px" position="sticky" top="0" bg="panel">
        <Text fontWeight={700} whiteSpace="nowrap" {...tipped(words.glossary.snag[1])}>
          {words.tray.secondLook}
        </Text>
        {faults.length > 0 ? (
          <Flex gap="4px">
            <Do id="nextSnag" as={Minor}>
              {words.tray.nextOf(faults.length)}
            </Do>
            <Do id="mendAll" as={Minor} />
          </Flex>
        ) : (
          take && (
            <Minor
              disabled={isBusy(sweep)}
              tip={words.tray.lookAgainTip}
              onClick={() => actions.review(sweep)}
            >
              {words.tray.lookAgain}
            </Minor>
          )
        )}
      </Flex>
      <Faults desk={desk} sweep={sweep} faults={faults} viewer={viewer} />
      {faults.length === 0 && (
        <Text fontSize="13px" color="soft">
          {withoutFault(take)}
        </Text>
      )}
      {take && (
        <Text fontSize="13px" color="soft" mt="3px" {...tipped(take.parts.map(madeSo).join("\n"))}>
          {words.tray.madeBy(madeBy(take))}
        </Text>
      )}
    </Box>
  );
}

function withoutFault(take: Take | undefined): string {
  if (!take) return words.tray.thePictureAsShot;
  return take.reviewed ? words.tray.noSnagsFound : words.tray.notLookedAtYet;
}

type FaultsProps = Omit<Props, "actions"> & { faults: Fault[] };

/** What nobody will see at the size of delivery is there for who asks, and not in the way. */
function Faults({ desk, sweep, faults, viewer }: FaultsProps) {
  const { snag: chosen, delivery, set } = useStateOf("snag", "delivery", "set");
  const isChosen = (fault: Fault) => fault.all.some((each) => each.id === chosen);
  const unseen = faults.filter((fault) => fades(fault.worst, desk.frame, delivery));
  const seen = faults.filter((fault) => !unseen.includes(fault));
  const visit = ({ worst, box }: Fault) => {
    set({ snag: worst.id });
    viewer?.camera.visit(box);
  };
  const line = (fault: Fault) => (
    <FaultLine
      key={fault.worst.id}
      desk={desk}
      sweep={sweep}
      fault={fault}
      chosen={isChosen(fault)}
      visit={() => visit(fault)}
    />
  );
  return (
    <>
      <Box as="ol" listStyleType="none">
        {seen.map(line)}
      </Box>
      {unseen.length > 0 && (
        <details open={unseen.some(isChosen) || undefined}>
          <summary>
            <Text as="span" fontSize="13px" color="soft">
              {words.tray.unseen(unseen.length, seen.length > 0)}
            </Text>
          </summary>
          <Box as="ol" listStyleType="none">
            {unseen.map(line)}
          </Box>
        </details>
      )}
    </>
  );
}

type LineProps = { desk: Desk; sweep: Sweep; fault: Fault; chosen: boolean; visit: () => void };

/** One fault: a small picture of it, what it is and how bad; what can be done about it once it is gone to. */
function FaultLine({ desk, sweep, fault, chosen, visit }: LineProps) {
  const { delivery } = useStateOf("delivery");
  const { worst, all, box } = fault;
  const look = { ...pictured(desk), sweep: sweep.id, take: worst.take };
  const tried = triedBefore(sweep, worst);
  const own = useInView(chosen);
  return (
    <chakra.li
      ref={own}
      borderLeft="3px solid"
      borderColor={chosen ? "marigold" : "transparent"}
      pl="5px"
      pb="3px"
      data-testid="snag"
      scrollMarginTop={HEAD}
    >
      <button
        type="button"
        onClick={visit}
        {...tipped(worst.why)}
        style={{ width: "100%", textAlign: "left", display: "flex", gap: 7 }}
      >
        <Image
          src={cropUrl(desk.frame.id, look, framed(box, desk.frame, 1), 80)}
          alt=""
          w="34px"
          h="34px"
          objectFit="cover"
          flexShrink={0}
        />
        <Box minW="0" fontSize="13px" lineHeight="1.25">
          <Text fontWeight={700} truncate>
            {words.named.snagKind[worst.kind]}
            {all.length > 1 && ` × ${all.length}`}
          </Text>
          <Text color="soft" truncate>
            {tried ??
              (fades(worst, desk.frame, delivery) ? words.tray.notSeenAtDeliverySize : strength(worst))}
          </Text>
        </Box>
      </button>
      {chosen && (
        <>
          <Flex gap="5px" my="3px">
            <Do id="mend" as={Minor} tip={MENDS[worst.mend].tip}>
              {MENDS[worst.mend].label}
            </Do>
            <Do id="dismiss" as={Minor} />
          </Flex>
          <Text fontSize="13px" color="soft" lineHeight="1.2">
            {worst.why}
            {worst.grading && ` ${words.tray.afterGrading(words.named.shownBy[worst.grading])}`}
            {tried && ` ${words.tray.triedInVain}`}
          </Text>
        </>
      )}
    </chakra.li>
  );
}

/** A low tray shows the fault that is chosen, and what can be done about it. */
function useInView(chosen: boolean) {
  const own = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (chosen) own.current?.scrollIntoView({ block: "nearest" });
  }, [chosen]);
  return own;
}

const strength = (snag: Snag) =>
  snag.grading
    ? words.named.shownBy[snag.grading]
    : words.tray.strong[snag.strength > 0.66 ? "plain" : snag.strength > 0.33 ? "visible" : "faint"];
