import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useMemo, useRef, useState } from "react";
import type { Shoot, Standing } from "../api/client";
import { shootsKey, useStandings } from "../api/queries";
import { Act, Choice } from "../theme/controls";
import { among, counts, type Filter, type Order, STATES } from "./among";
import { Budget } from "./Budget";
import { Chosen } from "./Chosen";
import { FrameGrid } from "./FrameGrid";
import { type Upload, upload } from "./upload";

const NONE: Map<number, Standing> = new Map();

/** One shoot: its frames, and a place to drop more. */
export function ShootSection({ shoot }: { shoot: Shoot }) {
  const queries = useQueryClient();
  const [uploads, setUploads] = useState<Upload[]>([]);
  const [over, setOver] = useState(false);
  const [filter, setFilter] = useState<Filter>("all");
  const [order, setOrder] = useState<Order>("name");
  const [picked, setChosen] = useState<number[]>([]);
  const standings = useStandings(shoot.id);
  const known = standings.data ?? NONE;
  const shown = useMemo(
    () => among(shoot.frames, known, filter, order),
    [shoot.frames, known, filter, order],
  );
  // Frames that are gone are chosen no more.
  const chosen = picked.filter((each) => shoot.frames.some((frame) => frame.id === each));
  const many = counts(known.values());
  const filters: Filter[] = ["all", ...STATES.filter((state) => many.has(state) || state === filter)];
  const told = STATES.filter((state) => many.has(state))
    .map((state) => `${many.get(state)} ${state}`)
    .join(" · ");
  const chooser = useRef<HTMLInputElement>(null);

  const take = async (files: FileList | null) => {
    if (!files?.length) return;
    await upload(shoot.id, [...files], (changed) =>
      setUploads((known) =>
        known.some((u) => u.id === changed.id)
          ? known.map((u) => (u.id === changed.id ? changed : u))
          : [...known, changed],
      ),
    );
    queries.invalidateQueries({ queryKey: shootsKey });
    setUploads((known) => known.filter((u) => u.state !== "done"));
  };

  return (
    <Box
      as="section"
      aria-label={shoot.name}
      mb="26px"
      p="12px"
      border="1px solid"
      borderColor={over ? "ink" : "line"}
      borderRadius="4px"
      bg={over ? "white" : "sheet"}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        take(event.dataTransfer.files);
      }}
    >
      <Flex align="baseline" gap="3" mb="10px">
        <Heading size="md">{shoot.name}</Heading>
        <Text color="soft">
          {shoot.frames.length === 1 ? "1 picture" : `${shoot.frames.length} pictures`}
        </Text>
        <Budget shoot={shoot} />
        <Box flex="1" />
        <Text color="soft">{over ? "Let go to add them" : "Drop pictures here, or"}</Text>
        <Act onClick={() => chooser.current?.click()}>Choose files</Act>
        <input
          ref={chooser}
          type="file"
          multiple
          hidden
          accept=".jpg,.jpeg,.png,.tif,.tiff,image/jpeg,image/png,image/tiff"
          aria-label={`Pictures for ${shoot.name}`}
          onChange={(event) => {
            take(event.target.files);
            event.target.value = "";
          }}
        />
      </Flex>
      {uploads.length > 0 && <Uploads uploads={uploads} forget={() => setUploads([])} />}
      {shoot.frames.length > 1 && (
        <Flex gap="12px" align="center" mb="10px" fontSize="13px">
          <Text color="soft">Show</Text>
          <Choice label="Show" value={filter} among={filters} wide="120px" onChange={setFilter} />
          <Text color="soft">{told}</Text>
          <Box flex="1" />
          <Text color="soft">Sorted by</Text>
          <Choice
            label="Sorted by"
            value={order}
            among={["name", "state", "newest"]}
            wide="96px"
            onChange={setOrder}
          />
        </Flex>
      )}
      <FrameGrid frames={shown} standings={known} chosen={chosen} choose={setChosen} />
      {chosen.length > 0 && <Chosen shoot={shoot} standings={known} chosen={chosen} choose={setChosen} />}
    </Box>
  );
}

const WORDS = { sending: "sending", checking: "reading and checking", done: "added", failed: "not added" };

function Uploads({ uploads, forget }: { uploads: Upload[]; forget: () => void }) {
  const failed = uploads.some((u) => u.state === "failed");
  return (
    <Box as="ul" listStyleType="none" mb="12px" aria-label="Files being added">
      {uploads.map((u) => (
        <Flex as="li" key={u.id} gap="3" py="4px" align="center" borderBottom="1px solid" borderColor="line">
          <Text w="240px" truncate>
            {u.name}
          </Text>
          {u.state === "failed" ? (
            <Text color="alarm" fontWeight={700}>
              ✕ {u.error}
            </Text>
          ) : (
            <>
              <progress value={u.share} aria-label={u.name} style={{ width: 160 }} />
              <Text color="soft">
                {WORDS[u.state]} {u.state === "sending" ? `${Math.round(u.share * 100)} %` : ""}
              </Text>
            </>
          )}
        </Flex>
      ))}
      {failed && (
        <Act mt="8px" onClick={forget}>
          Put these lines away
        </Act>
      )}
    </Box>
  );
}
