import { Box, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { useIsFetching, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, ask, type LibraryRoom } from "../api/client";
import { askAgain } from "../api/queries";
import { Coming } from "../Boundary";
import { Act } from "../theme/controls";
import { Masthead } from "../theme/Masthead";
import { Problem } from "../theme/Problem";
import * as words from "../words/words";
import { Notices } from "./Notices";
import { Taste } from "./Taste";
import { Tokens } from "./Tokens";
import { Working } from "./Working";

const HEADS = [
  words.library.shoot,
  words.library.pictures,
  words.library.originals,
  words.library.made,
  words.library.again,
];
const roomKey = ["library"] as const;

/** Where everything is kept, what room it takes, and what to send along when something is wrong. */
export function LibraryPage() {
  const room = useQuery({
    queryKey: roomKey,
    queryFn: () => ask(api.GET("/api/library")),
    staleTime: 0,
  });
  const settled = useSettled(room.isPending);
  return (
    <Flex direction="column" minH="100%">
      <Masthead here="library" />
      <Box as="main" px="22px" py="18px" maxW="920px" w="100%">
        <Heading size="md">{words.library.library}</Heading>
        {!settled && <Coming />}
        {/* All of it at once: what arrives late must not move what is about to be clicked. */}
        <Box visibility={settled ? "visible" : "hidden"}>
          {room.error && <Problem text={room.error.message} />}
          {room.data && <Room room={room.data} />}
          <Working />
          <Taste />
          <Tokens />
          <Notices />
          <IfSomethingIsWrong />
        </Box>
      </Box>
    </Flex>
  );
}

/** Whether everything that the page asked for first has been answered, or refused; so it stays. */
function useSettled(pending: boolean): boolean {
  const asked = useIsFetching();
  const [settled, setSettled] = useState(false);
  useEffect(() => {
    if (!pending && asked === 0) setSettled(true);
  }, [pending, asked]);
  return settled;
}

/** What room each shoot takes, and what of it can be given back. */
function Room({ room }: { room: LibraryRoom }) {
  const queries = useQueryClient();
  const drop = useMutation({
    mutationFn: () => ask(api.POST("/api/library/drop-views")),
    onSettled: () => askAgain(queries, roomKey),
  });
  const { bytes } = words.units;
  return (
    <>
      {drop.error && <Problem text={drop.error.message} />}
      <Text color="soft" mt="4px" mb="14px">
        {words.library.everythingIsInTheFolder} <b>{room.folder}</b>
        {words.library.whichCanBeMoved} {words.library.freeThere(bytes(room.free))}
      </Text>
      <Shoots room={room} />
      {room.gone > 0 && <Text mt="14px">{words.library.goneTakes(bytes(room.gone))}</Text>}
      <Flex align="center" gap="12px" mt="14px" wrap="wrap">
        <Act
          tip={words.library.giveBackTip}
          disabled={room.views === 0 || drop.isPending}
          onClick={() => drop.mutate()}
        >
          {words.library.giveBack(bytes(room.views))}
        </Act>
        <Text color="soft" role="status">
          {drop.data ? words.library.freedNow(bytes(drop.data.bytes)) : words.library.canBeFreed}
        </Text>
      </Flex>
    </>
  );
}

function Shoots({ room }: { room: LibraryRoom }) {
  return (
    <Table.Root
      size="sm"
      variant="line"
      bg="sheet"
      borderTop="1px solid"
      borderX="1px solid"
      borderColor="line"
    >
      <Table.Header>
        <Table.Row bg="transparent">
          {HEADS.map((head, k) => (
            <Table.ColumnHeader key={head} textAlign={k ? "end" : "start"}>
              {head}
            </Table.ColumnHeader>
          ))}
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {room.shoots.map((shoot) => (
          <Row
            key={shoot.shoot}
            cells={[shoot.name, shoot.frames, ...sizes(shoot.originals, shoot.work, shoot.views)]}
          />
        ))}
        <Row cells={[words.library.database, "", "", words.units.bytes(room.database), ""]} />
      </Table.Body>
    </Table.Root>
  );
}

/** What to send along, and what runs here. */
function IfSomethingIsWrong() {
  const health = useQuery({ queryKey: ["health"], queryFn: () => ask(api.GET("/api/health")), staleTime: 0 });
  return (
    <>
      <Heading size="sm" mt="28px">
        {words.library.ifSomethingIsWrong}
      </Heading>
      {health.error && <Problem text={health.error.message} />}
      <Text color="soft" mt="4px" mb="10px" maxW="680px">
        {words.library.reportSays}
      </Text>
      <a href="/api/report" download="keen-sweep-report.zip">
        <Act as="span">{words.library.saveAReport}</Act>
      </a>
      {health.data && (
        <Text color="soft" fontSize="13px" mt="10px">
          {words.library.libraryOfVersion(health.data.version, health.data.schema_revision)}{" "}
          {health.data.networks ? words.library.networksThere : words.library.networksMissing}
        </Text>
      )}
    </>
  );
}

function sizes(...bytes: number[]) {
  return bytes.map(words.units.bytes);
}

function Row({ cells }: { cells: (string | number)[] }) {
  return (
    <Table.Row bg="transparent">
      {cells.map((cell, k) => (
        <Table.Cell key={HEADS[k]} textAlign={k ? "end" : "start"} fontWeight={k ? 400 : 700}>
          {cell}
        </Table.Cell>
      ))}
    </Table.Row>
  );
}
