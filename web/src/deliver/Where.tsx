import { Box, Text } from "@chakra-ui/react";
import type { Wanted } from "../api/client";
import { Field, Radio } from "../theme/controls";
import { tipped } from "../theme/tip";
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
export function Where({ count, wanted, change, folder, setFolder, first, wrong, there }: Props) {
  const name = first && (count > 1 ? words.deliver.andSoOn(first) : first);
  return (
    <Box mt="14px">
      <label htmlFor="pattern">
        <b>{words.deliver.names}</b>
      </label>
      <Field
        id="pattern"
        mt="4px"
        value={wanted.pattern}
        maxLength={180}
        {...tipped(words.deliver.namesTip)}
        aria-describedby="first-name"
        aria-invalid={wrong !== undefined}
        onChange={(event) => change({ pattern: event.target.value })}
      />
      <Text id="first-name" role="status" fontSize="13px" color={wrong ? "alarm" : "soft"} mt="2px">
        {wrong ?? name}
      </Text>
      <fieldset style={{ marginTop: 12 }}>
        <legend style={{ fontWeight: 700, marginBottom: 4 }}>{words.deliver.whereTo}</legend>
        <Radio name="where" checked={folder === null} choose={() => setFolder(null)}>
          {count > 1 || wanted.masks ? words.deliver.downloadsAsZip : words.deliver.downloads}
        </Radio>
        <Radio name="where" checked={folder !== null} choose={() => setFolder(folder ?? "~/delivered")}>
          {words.deliver.intoFolder}
        </Radio>
        {folder !== null && <Folder folder={folder} setFolder={setFolder} there={there} />}
      </fieldset>
    </Box>
  );
}

function Folder({ folder, setFolder, there }: Pick<Props, "setFolder" | "there"> & { folder: string }) {
  return (
    <>
      <Field
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
  );
}
