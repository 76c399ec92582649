import { Box, Flex, Image, Text, type TextProps } from "@chakra-ui/react";
import { type ReactNode, useState } from "react";
import type { Desk, Sweep, Take } from "../../api/client";
import { cropUrl, framed } from "../../api/views";
import { tipped } from "../../theme/tip";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";
import { fillOf, fills, ledger, opensFill } from "../reading/ledger";
import { pictured } from "../reading/look";
import { madeWith } from "../reading/made";
import { said } from "../reading/said";
import { isDecided } from "../reading/sweeps";
import { useStateOf } from "../state/state";

/** What the tray leaves for a crop, whatever its height, and how wide that is. */
const TALL = "calc(var(--tray) - 48px)";
const SHAPE = 1.6;
const WIDE = `calc((var(--tray) - 48px) * ${SHAPE})`;

type CardProps = { desk: Desk; sweep: Sweep; stands: number };

/** The place of a sweep as it was shot, beside its takes. */
export function AsShot({ desk, sweep, stands }: CardProps) {
  return <Card desk={desk} sweep={sweep} take={0} label={words.app.asShot} stands={stands} />;
}

/** One take: what it looks like, which it is, how it was made. */
export function TakeCard({
  desk,
  sweep,
  take,
  stands,
  actions,
}: CardProps & { take: Take; actions: Actions }) {
  const number = sweep.takes.indexOf(take) + 1;
  const label = words.tray.take(number);
  const opens = opensFill(sweep, take);
  const notes = [opens ? words.tray.fillNumber(fillOf(sweep, take)) : "", madeWith(take)];
  return (
    <Box
      flexShrink={0}
      position="relative"
      borderLeft={opens ? "2px solid" : undefined}
      borderColor="edge"
      pl={opens ? "8px" : undefined}
    >
      <Card
        desk={desk}
        sweep={sweep}
        take={take.id}
        label={label}
        best={take.id === sweep.best && sweep.takes.length > 1}
        note={notes.filter(Boolean).join(" · ")}
        tip={desk.picks ? words.tray.byYourPicks(facts(sweep, take), desk.picks) : facts(sweep, take)}
        stands={stands}
      />
      <button
        type="button"
        aria-pressed={take.favourite}
        aria-label={words.tray.favourite(number)}
        {...tipped(words.tray.favouriteTip)}
        onClick={() => actions.favour(take.id, !take.favourite)}
        style={{ position: "absolute", right: 4, top: `calc(${TALL} + 8px)`, lineHeight: 1 }}
      >
        <Text as="span" fontSize="16px" color={take.favourite ? "heart" : "edge"}>
          {take.favourite ? "♥" : "♡"}
        </Text>
      </button>
    </Box>
  );
}

type FaceProps = CardProps & { take: number; label: string; best?: boolean; note?: string; tip?: string };

function Card({ desk, sweep, take, label, best, note, tip, stands }: FaceProps) {
  const { set } = useStateOf("set");
  const picked = isDecided(sweep, take);
  const provisional = sweep.provisional && sweep.standing === take;
  const look = { ...pictured(desk), sweep: sweep.id, take };
  const address = cropUrl(desk.frame.id, look, framed(sweep.box, desk.frame, SHAPE), 640);
  return (
    <Box flexShrink={0} position="relative">
      <button
        type="button"
        aria-pressed={stands === take}
        {...tipped(tip)}
        onClick={() => set({ viewed: take })}
      >
        <Box border="3px solid" borderColor={stands === take ? "marigold" : "transparent"} borderRadius="2px">
          <Crop address={address} />
        </Box>
        <Text px="3px" fontWeight={700} whiteSpace="nowrap" textAlign="left">
          {provisional && <span aria-hidden="true">○ </span>}
          {picked ? `✓ ${label}` : label}
        </Text>
      </button>
      {best && <Tag top="7px">{desk.picks ? words.tray.bestByPicks(desk.picks) : words.tray.best}</Tag>}
      {note && (
        <Tag bottom="26px" display={{ base: "block", xl: picked ? "block" : "none" }}>
          {note}
        </Tag>
      )}
      {/* Beside the pick there is no room for it, nor in a narrow window: there it stands on the picture. */}
      {!picked && note && (
        <Text
          display={{ base: "none", xl: "block" }}
          position="absolute"
          bottom="0"
          left="58px"
          right="22px"
          color="soft"
          fontSize="13px"
          truncate
          textAlign="right"
          pointerEvents="none"
        >
          {note}
        </Text>
      )}
    </Box>
  );
}

/** The picture of a take, or a word where it cannot be loaded. */
function Crop({ address }: { address: string }) {
  // The address of what could not be loaded: another one is tried anew.
  const [missing, setMissing] = useState("");
  if (missing === address)
    return (
      <Flex h={TALL} w={WIDE} bg="blank" align="center" justify="center">
        <Text fontSize="13px">{words.tray.notLoaded}</Text>
      </Flex>
    );
  return (
    <Image src={address} alt="" h={TALL} w={WIDE} objectFit="cover" onError={() => setMissing(address)} />
  );
}

/** A word on the picture of a take, that takes no clicks from it. */
function Tag(props: TextProps) {
  return (
    <Text
      position="absolute"
      left="7px"
      maxW="calc(100% - 14px)"
      px="5px"
      bg="sheet"
      fontSize="13px"
      borderRadius="2px"
      pointerEvents="none"
      truncate
      {...props}
    />
  );
}

/** When and how a take was made: the fill it belongs to, its seed, what it took. */
function facts(sweep: Sweep, take: Take): string {
  const at = new Date(take.made_at).toLocaleString([], { dateStyle: "medium", timeStyle: "short" });
  const fill = words.tray.fillOf(fillOf(sweep, take), fills(sweep).length);
  const how = words.tray.how(
    words.named.method[take.method],
    words.named.quality[take.quality],
    take.seed,
    take.seconds.toFixed(1),
  );
  return [`${fill}, ${at}`, how, ...ledger(take)].join("\n");
}

/** The takes that are being made. */
export function Coming({ sweep }: { sweep: Sweep }): ReactNode {
  return (
    <Flex
      direction="column"
      justify="center"
      align="center"
      w={WIDE}
      h={`calc(${TALL} + 6px)`}
      bg="blank"
      flexShrink={0}
      gap="2"
    >
      <Text fontSize="13px">{said(sweep)}</Text>
      {sweep.run?.doing && (
        <Text fontSize="12px" color="soft" lineHeight="1.15" textAlign="center" px="4px" aria-live="polite">
          {sweep.run.doing}
        </Text>
      )}
      <progress value={sweep.run?.progress ?? 0} aria-label={words.tray.fill} style={{ width: 110 }} />
    </Flex>
  );
}
