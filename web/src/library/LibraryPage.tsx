import { Box, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ask } from "../api/client";
import { Act } from "../theme/controls";
import { Masthead } from "../theme/Masthead";
import { Problem } from "../theme/Problem";
import { inBytes } from "./bytes";
import { Notices } from "./Notices";
import { Taste } from "./Taste";
import { Tokens } from "./Tokens";

const HEADS = ["Shoot", "Pictures", "As they came in", "Made of them", "Can be made again"];
const roomKey = ["library"] as const;

/** Where everything is kept, what room it takes, and what to send along when something is wrong. */
export function LibraryPage() {
  const queries = useQueryClient();
  const room = useQuery({
    queryKey: roomKey,
    queryFn: () => ask(api.GET("/api/library")),
    staleTime: 0,
  });
  const health = useQuery({ queryKey: ["health"], queryFn: () => ask(api.GET("/api/health")), staleTime: 0 });
  const drop = useMutation({
    mutationFn: () => ask(api.POST("/api/library/drop-views")),
    onSettled: () => queries.invalidateQueries({ queryKey: roomKey }),
  });
  const told = room.data;
  const wrong = health.error ?? room.error ?? drop.error;
  return (
    <Flex direction="column" minH="100%">
      <Masthead here="Library" />
      <Box as="main" px="22px" py="18px" maxW="920px" w="100%">
        <Heading size="md">Library</Heading>
        {wrong && <Problem text={wrong.message} />}
        {told && (
          <>
            <Text color="soft" mt="4px" mb="14px">
              Everything is in the folder <b>{told.folder}</b>, which can be moved and copied as it is.{" "}
              {inBytes(told.free)} are free there.
            </Text>
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
                {told.shoots.map((shoot) => (
                  <Row
                    key={shoot.shoot}
                    cells={[shoot.name, shoot.frames, ...sizes(shoot.originals, shoot.work, shoot.views)]}
                  />
                ))}
                <Row cells={["Database", "", "", inBytes(told.database), ""]} />
              </Table.Body>
            </Table.Root>
            <Flex align="center" gap="12px" mt="14px" wrap="wrap">
              <Act
                tip="Views and alignments are made again when they are needed"
                disabled={told.views === 0 || drop.isPending}
                onClick={() => drop.mutate()}
              >
                Give back {inBytes(told.views)}
              </Act>
              <Text color="soft" role="status">
                {drop.data
                  ? `${inBytes(drop.data.bytes)} are free again. Pictures take a moment longer to open the next time.`
                  : "of what can be made again: pictures at every zoom, and how frames lie to each other."}
              </Text>
            </Flex>
          </>
        )}
        <Taste />
        <Tokens />
        <Notices />
        <Heading size="sm" mt="28px">
          If something is wrong
        </Heading>
        <Text color="soft" mt="4px" mb="10px" maxW="680px">
          A report tells what happened lately and on which versions: no pictures, no names, no hints, no keys.
          Look into it before you send it to anybody; it goes nowhere by itself.
        </Text>
        <a href="/api/report" download="keen-sweep-report.zip">
          <Act as="span">Save a report</Act>
        </a>
        {health.data && (
          <Text color="soft" fontSize="13px" mt="10px">
            Keen Sweep {health.data.version}, library of version {health.data.schema_revision}.{" "}
            {health.data.networks
              ? "All networks of the scouts are there."
              : "Networks of the scouts are missing: people and things are not found until keen-sweep weights has fetched them."}
          </Text>
        )}
      </Box>
    </Flex>
  );
}

function sizes(...bytes: number[]) {
  return bytes.map(inBytes);
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
