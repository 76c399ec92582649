import { Box, Flex, Heading, Image, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Desk, Frame, Wanted } from "../api/client";
import { showLastDelivery, useDesk, useStandings } from "../api/queries";
import { cropUrl } from "../api/views";
import { Act, Lead } from "../theme/controls";
import * as words from "../words/words";
import { Asked } from "./Asked";
import { InIt } from "./InIt";
import { Kinds } from "./Kinds";
import { openAmong, openIn, type Provisional, provisionalAmong, provisionalIn } from "./open";
import { PageTop } from "./PageTop";
import { useDelivery } from "./useDelivery";
import { Where } from "./Where";
import { LIKE_THE_ORIGINAL } from "./wanted";

/** The finished pictures as files: of one frame, or of those that were chosen. */
export function DeliverPage() {
  return (
    <Asked
      show={(shoot, frames) => (
        <Ready key={frames.map((frame) => frame.id).join()} shoot={shoot} frames={frames} first={frames[0]} />
      )}
    />
  );
}

type ReadyProps = { shoot: { id: number; name: string }; frames: Frame[]; first: Frame };

/** Waits for how it was done last time, so that nothing jumps. */
function Ready(props: ReadyProps) {
  const last = useQuery({ ...showLastDelivery(props.shoot.id), staleTime: 0, refetchOnWindowFocus: false });
  const desk = useDesk(props.first.id);
  if (desk.error) return <Text p="30px">{desk.error.message}</Text>;
  if (last.isPending || !desk.data) return <Box p="30px">{words.app.oneMoment}</Box>;
  return <Delivery {...props} desk={desk.data} last={last.data ?? null} />;
}

type Last = { wanted: Partial<Wanted>; folder: string | null } | null;

function Delivery({ shoot, frames, desk, last }: ReadyProps & { desk: Desk; last: Last }) {
  const { frame, revision } = desk;
  const [wanted, setWanted] = useState<Wanted>({ ...LIKE_THE_ORIGINAL, ...last?.wanted });
  const [folder, setFolder] = useState<string | null>(last?.folder ?? null);
  const [before, setBefore] = useState(false);
  const ids = frames.map((each) => each.id);
  const doing = useDelivery({ shoot: shoot.id, frames: ids, wanted, folder });
  const standings = useStandings(shoot.id).data;
  const open =
    ids.length === 1
      ? openIn(desk.sweeps)
      : openAmong(ids.map((id) => standings?.get(id)).filter((each) => each !== undefined));
  const provisional =
    ids.length === 1
      ? provisionalIn(frame.id, desk.sweeps)
      : provisionalAmong(ids.map((id) => standings?.get(id)).filter((each) => each !== undefined));
  const change = (some: Partial<Wanted>) => setWanted((known) => ({ ...known, ...some }));
  const all = { x: 0, y: 0, width: frame.width, height: frame.height };
  return (
    <Flex direction="column" h="100vh">
      <PageTop frames={frames} shoot={shoot.name} other={{ to: "ledger", says: words.deliver.ledger }} />
      <Flex as="main" flex="1" minH="0">
        <Flex flex="1" bg="#757575" p="14px" align="center" justify="center" minW="0">
          <Image
            src={cropUrl(
              frame.id,
              before ? { revision, shot: true } : { revision, provisional: frame.provisional },
              all,
              1400,
            )}
            alt={before ? words.deliver.pictureAsShot : words.deliver.pictureToCome}
            maxW="100%"
            maxH="100%"
            objectFit="contain"
          />
        </Flex>
        <Flex direction="column" w="370px" borderLeft="1px solid" borderColor="line" flexShrink={0}>
          <Box flex="1" minH="0" p="16px" overflowY="auto">
            <Heading size="md" mb="8px">
              {words.deliver.heading(frames.length)}
            </Heading>
            <Kinds frames={frames} wanted={wanted} change={change} />
            <Where
              count={frames.length}
              wanted={wanted}
              change={change}
              folder={folder}
              setFolder={setFolder}
              first={doing.names?.[0]?.name}
              wrong={doing.wrong}
              there={doing.there}
            />
            {frames.length === 1 && <InIt desk={desk} />}
          </Box>
          <Foot doing={doing} open={open} provisional={provisional} before={before} setBefore={setBefore} />
        </Flex>
      </Flex>
    </Flex>
  );
}

type FootProps = {
  doing: ReturnType<typeof useDelivery>;
  /** What is still open, in a sentence. */
  open: string;
  provisional: Provisional;
  before: boolean;
  setBefore: (before: boolean) => void;
};

/** What is still open, the way out, how far it is and what came of it. */
function Foot({ doing, open, provisional, before, setBefore }: FootProps) {
  const { done, word, there, wrong, go } = doing;
  return (
    <Box p="12px 16px" borderTop="1px solid" borderColor="line">
      {open && (
        <Text mb="10px" pl="8px" borderLeft="3px solid" borderColor="marigold" data-testid="still-open">
          {open}
        </Text>
      )}
      {provisional.sweeps > 0 && (
        <Flex mb="10px" align="center" gap="10px" data-testid="provisional">
          <Text flex="1">{words.deliver.provisional(provisional.sweeps)}</Text>
          <Link to={provisional.at}>
            <Act as="span">{words.deliver.lookAtThem}</Act>
          </Link>
        </Flex>
      )}
      <Flex gap="8px" align="center">
        <Lead onClick={go} disabled={done !== null || wrong !== undefined}>
          {done ? words.deliver.writing : there ? words.deliver.deliverOver : words.deliver.deliver}
        </Lead>
        <Act
          pressed={before}
          onPointerDown={() => setBefore(true)}
          onPointerUp={() => setBefore(false)}
          onPointerLeave={() => setBefore(false)}
          tip={words.deliver.asShotTip}
        >
          {words.app.asShot}
        </Act>
      </Flex>
      {done && done.of > 1 && (
        <Flex mt="10px" gap="8px" align="center" role="status">
          <progress value={done.done / done.of} aria-label={words.deliver.delivered} style={{ flex: 1 }} />
          {words.deliver.progress(done.done, done.of)}
        </Flex>
      )}
      {word && (
        <Text
          role={word.bad ? "alert" : "status"}
          mt="10px"
          fontWeight={700}
          color={word.bad ? "alarm" : "ink"}
          overflowWrap="anywhere"
        >
          {word.text}
        </Text>
      )}
    </Box>
  );
}
