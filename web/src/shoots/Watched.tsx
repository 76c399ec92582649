import { Flex, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Shoot } from "../api/client";
import { askAgain, shootsKey, useWatched } from "../api/queries";
import { Act, Field } from "../theme/controls";
import { Problem } from "../theme/Problem";
import * as words from "../words/words";

/** A folder that is watched for newer versions of a shoot's pictures: which, and what became of its files. */
export function Watched({ shoot, close }: { shoot: Shoot; close: () => void }) {
  const queries = useQueryClient();
  const [folder, setFolder] = useState(shoot.watched ?? "");
  const [problem, setProblem] = useState("");
  const watch = (wanted: string | null) =>
    ask(
      api.PUT("/api/shoots/{shoot_id}/watched", {
        params: { path: { shoot_id: shoot.id } },
        body: { folder: wanted },
      }),
    )
      .then(() => {
        setProblem("");
        if (wanted === null) close();
        return askAgain(queries, shootsKey);
      })
      .catch((error: Error) => setProblem(error.message));
  return (
    <Flex
      as="form"
      role="region"
      aria-label={words.shoots.watchedFolder}
      direction="column"
      gap="6px"
      mb="10px"
      p="10px"
      bg="raised"
      onSubmit={(event) => {
        event.preventDefault();
        watch(folder);
      }}
    >
      <Flex align="center" gap="8px" wrap="wrap">
        <label htmlFor={`watched-${shoot.id}`}>
          <b>{words.shoots.folderWithNewerVersions}</b>
        </label>
        <Field
          id={`watched-${shoot.id}`}
          w="320px"
          placeholder={words.shoots.folderLike}
          maxLength={1000}
          value={folder}
          onChange={(event) => setFolder(event.target.value)}
        />
        <Act type="submit" disabled={!folder.trim() || folder === shoot.watched}>
          {words.shoots.watchIt}
        </Act>
        {shoot.watched && <Act onClick={() => watch(null)}>{words.shoots.stopWatching}</Act>}
        <Act onClick={close}>{words.app.close}</Act>
      </Flex>
      <Text color="soft" fontSize="13px">
        {words.shoots.watchedSays}
      </Text>
      {problem && <Problem text={problem} />}
      <Became shoot={shoot} />
    </Flex>
  );
}

/** What became of the folder's files. */
function Became({ shoot }: { shoot: Shoot }) {
  const known = useWatched(shoot.id).data;
  if (!known) return null;
  return (
    <>
      {!known.there && <Problem text={words.shoots.folderGone} />}
      {(known.taken > 0 || known.left.length > 0) && (
        <Text fontSize="13px" role="status">
          {words.shoots.takenUp(known.taken)}
        </Text>
      )}
      {known.left.map((each) => (
        <Text key={each} fontSize="13px" color="alarm">
          {each}
        </Text>
      ))}
    </>
  );
}
