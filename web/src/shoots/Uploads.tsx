import { Box, Flex, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { Act } from "../theme/controls";
import * as words from "../words/words";
import { type Upload, underWay } from "./upload";

const WORDS = {
  waiting: words.shoots.waiting,
  sending: words.shoots.sending,
  checking: words.shoots.checking,
  done: words.shoots.done,
  there: words.shoots.there,
  failed: words.shoots.failed,
};
// So many lines of files that are under way; what went wrong is told in full.
const SHOWN = 6;

/** Files that are being added: how far, how long still, and which are no good. */
export function Uploads(props: { uploads: Upload[]; since: number; forget: () => void }) {
  const { uploads, since, forget } = props;
  const [now, setNow] = useState(() => performance.now());
  useEffect(() => {
    const clock = setInterval(() => setNow(performance.now()), 500);
    return () => clearInterval(clock);
  }, []);
  const failed = uploads.filter((u) => u.state === "failed");
  const there = uploads.filter((u) => u.state === "there");
  const busy = uploads.filter(
    (u) => u.state === "waiting" || u.state === "sending" || u.state === "checking",
  );
  const { share, through, left } = underWay(uploads, (now - since) / 1000);
  return (
    <Box mb="12px">
      {busy.length > 0 && (
        <Flex gap="3" align="center" py="4px" role="status">
          <progress value={share} aria-label={words.shoots.allFiles} style={{ width: 240 }} />
          <Text>
            {words.shoots.through(
              through,
              uploads.length,
              left === undefined ? null : words.units.span(left),
            )}
          </Text>
        </Flex>
      )}
      {!busy.length && there.length > 0 && (
        <Text py="4px" role="status">
          {words.shoots.thereAlready(there.length, there[0]?.name)}
        </Text>
      )}
      <Box as="ul" listStyleType="none" aria-label={words.shoots.filesBeingAdded}>
        {[...failed, ...busy.slice(0, SHOWN)].map((u) => (
          <Line key={u.id} upload={u} />
        ))}
      </Box>
      {!busy.length && (failed.length > 0 || there.length > 0) && (
        <Act mt="8px" onClick={forget}>
          {words.shoots.putAway}
        </Act>
      )}
    </Box>
  );
}

/** How far a file is, or why it is no good. */
function Line({ upload: { name, state, error, share } }: { upload: Upload }) {
  return (
    <Flex as="li" gap="3" py="4px" align="center" borderBottom="1px solid" borderColor="line">
      <Text w="240px" truncate>
        {name}
      </Text>
      {state === "failed" ? (
        <Text color="alarm" fontWeight={700}>
          ✕ {error}
        </Text>
      ) : (
        <>
          <progress value={share} aria-label={name} style={{ width: 160 }} />
          <Text color="soft">
            {WORDS[state]} {state === "sending" ? words.units.percent(Math.round(share * 100)) : ""}
          </Text>
        </>
      )}
    </Flex>
  );
}
