import { Box, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { useQueries } from "@tanstack/react-query";
import { api, ask, type Frame, type Ledger } from "../api/client";
import { inCredits } from "../desk/reading/ledger";
import { Act } from "../theme/controls";
import * as words from "../words/words";
import { Asked } from "./Asked";
import { PageTop } from "./PageTop";

/** What in some pictures is not as shot, and how each of it was made. */
export function LedgerPage() {
  return <Asked show={(shoot, frames) => <Ledgers shoot={shoot.name} frames={frames} />} />;
}

function Ledgers({ shoot, frames }: { shoot: string; frames: Frame[] }) {
  const found = useQueries({
    queries: frames.map((frame) => ({
      queryKey: ["ledger", frame.id, frame.revision],
      queryFn: () =>
        ask(api.GET("/api/frames/{frame_id}/ledger", { params: { path: { frame_id: frame.id } } })),
      staleTime: 0,
    })),
  });
  const query = frames.map((frame) => `frames=${frame.id}`).join("&");
  return (
    <Flex direction="column" h="100vh">
      <PageTop frames={frames} shoot={shoot} other={{ to: "deliver", says: words.deliver.deliver }} />
      <Box as="main" flex="1" overflowY="auto" p="18px" maxW="1180px" w="100%" mx="auto">
        <Flex align="baseline" gap="10px">
          <Heading size="md">{words.deliver.ledger}</Heading>
          <Text color="soft">{words.deliver.ledgerSays}</Text>
          <Box flex="1" />
          <a
            href={`/api/ledger.html?${query}&title=${encodeURIComponent(shoot)}`}
            target="_blank"
            rel="noreferrer"
          >
            <Act as="span">{words.deliver.pageToPrint}</Act>
          </a>
          <a href={`/api/ledger.csv?${query}`} download="ledger.csv">
            <Act as="span">{words.deliver.spreadsheet}</Act>
          </a>
        </Flex>
        {found.map((each, k) => (
          <Box as="section" key={frames[k]?.id} mt="16px" aria-label={frames[k]?.name ?? ""}>
            <Heading size="sm" mb="4px">
              {frames[k]?.name}
            </Heading>
            {each.error && <Text color="alarm">{each.error.message}</Text>}
            {each.data && <Entries ledger={each.data} />}
          </Box>
        ))}
      </Box>
    </Flex>
  );
}

const SHARE = words.deliver.share;
const HEADS = [words.deliver.what, words.deliver.how, SHARE, words.deliver.madeWith, words.deliver.saidToIt];

function Entries({ ledger }: { ledger: Ledger }) {
  if (!ledger.entries?.length) return <Text color="soft">{words.deliver.asShot}</Text>;
  return (
    <Table.Root size="sm" fontSize="14px">
      <Table.Header>
        <Table.Row bg="transparent">
          {HEADS.map((each) => (
            <Table.ColumnHeader
              key={each}
              fontWeight={700}
              textAlign={each === SHARE ? "right" : "left"}
              pr={each === SHARE ? "28px" : undefined}
            >
              {each}
            </Table.ColumnHeader>
          ))}
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {ledger.entries.map((entry, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a ledger is read whole
          <Table.Row key={k} bg="transparent" verticalAlign="top">
            <Table.Cell>{entry.name}</Table.Cell>
            <Table.Cell>{words.named.way[entry.way]}</Table.Cell>
            <Table.Cell textAlign="right" w="110px" pr="28px">
              {entry.share.toFixed(2)}
            </Table.Cell>
            <Table.Cell>
              {[
                entry.engine,
                entry.model,
                entry.service,
                entry.sha256 && words.deliver.sha256(entry.sha256.slice(0, 12)),
                entry.sisters?.length && words.deliver.from(entry.sisters.join(", ")),
                entry.seed !== null && entry.seed !== undefined && words.deliver.seed(entry.seed),
                entry.credits && inCredits(entry.credits),
              ]
                .filter(Boolean)
                .join(" · ")}
            </Table.Cell>
            <Table.Cell>
              {[entry.hint, entry.avoid && words.deliver.not(entry.avoid)].filter(Boolean).join("; ")}
            </Table.Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}
