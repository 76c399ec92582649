import { Box, Flex, Input, Text } from "@chakra-ui/react";
import type { Wanted } from "../api/client";
import * as words from "../words/words";

type Props = {
  count: number;
  wanted: Wanted;
  change: (some: Partial<Wanted>) => void;
  folder: string | null;
  setFolder: (folder: string | null) => void;
  /** The first file's name as it will be, or why it cannot be. */
  first: string | undefined;
  wrong: string | undefined;
  there: number;
};

/** Under which names, and where to. */
export function Where(props: Props) {
  const { count, wanted, change, folder, setFolder, first, wrong, there } = props;
  return (
    <Box mt="14px">
      <label htmlFor="pattern">
        <b>{words.deliver.names}</b>
      </label>
      <Input
        id="pattern"
        size="xs"
        h="28px"
        mt="4px"
        bg="sheet"
        fontSize="14px"
        value={wanted.pattern}
        maxLength={180}
        title={words.deliver.namesTip}
        aria-describedby="first-name"
        aria-invalid={wrong !== undefined}
        onChange={(event) => change({ pattern: event.target.value })}
      />
      <Text id="first-name" role="status" fontSize="13px" color={wrong ? "alarm" : "soft"} mt="2px">
        {wrong ?? (first && (count > 1 ? words.deliver.andSoOn(first) : first))}
      </Text>
      <fieldset style={{ marginTop: 12 }}>
        <legend style={{ fontWeight: 700, marginBottom: 4 }}>{words.deliver.whereTo}</legend>
        <Flex as="label" gap="8px" py="2px" minH="26px" align="center" cursor="pointer">
          <input
            type="radio"
            name="where"
            checked={folder === null}
            onChange={() => setFolder(null)}
            style={{ accentColor: "var(--chakra-colors-ink)" }}
          />
          {count > 1 || wanted.masks ? words.deliver.downloadsAsZip : words.deliver.downloads}
        </Flex>
        <Flex as="label" gap="8px" py="2px" minH="26px" align="center" cursor="pointer">
          <input
            type="radio"
            name="where"
            checked={folder !== null}
            onChange={() => setFolder(folder ?? "~/delivered")}
            style={{ accentColor: "var(--chakra-colors-ink)" }}
          />
          {words.deliver.intoFolder}
        </Flex>
        {folder !== null && (
          <>
            <Input
              size="xs"
              h="28px"
              bg="sheet"
              fontSize="14px"
              aria-label={words.deliver.folder}
              value={folder}
              maxLength={1000}
              onChange={(event) => setFolder(event.target.value)}
            />
            {there > 0 && (
              <Text fontSize="13px" fontWeight={700} mt="2px">
                {words.deliver.thereAlready(there)}
              </Text>
            )}
          </>
        )}
      </fieldset>
    </Box>
  );
}
