import { Box, Flex, Grid, Heading, Image, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import type { Frame, Shoot } from "../api/client";
import { shootsKey } from "../api/queries";
import { cropUrl } from "../api/views";
import { Act } from "../theme/controls";
import { Budget } from "./Budget";
import { type Upload, upload } from "./upload";

/** One shoot: its frames, and a place to drop more. */
export function ShootSection({ shoot }: { shoot: Shoot }) {
  const queries = useQueryClient();
  const [uploads, setUploads] = useState<Upload[]>([]);
  const [over, setOver] = useState(false);
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
      <Grid templateColumns="repeat(auto-fill, minmax(220px, 1fr))" gap="14px">
        {shoot.frames.map((frame) => (
          <FrameCard key={frame.id} frame={frame} />
        ))}
      </Grid>
    </Box>
  );
}

function FrameCard({ frame }: { frame: Frame }) {
  const all = { x: 0, y: 0, width: frame.width, height: frame.height };
  return (
    <Link to={`/frames/${frame.id}`} aria-label={`Open ${frame.name}`}>
      <Box bg="#757575" borderRadius="2px" h="165px" display="grid" placeItems="center" p="8px">
        <Image
          src={cropUrl(frame.id, { revision: frame.revision }, all, 440)}
          alt=""
          maxH="149px"
          maxW="100%"
          loading="lazy"
        />
      </Box>
      <Text fontWeight={700} mt="5px" truncate>
        {frame.name}
      </Text>
      <Text color="soft" fontSize="13px">
        {frame.width} × {frame.height} px · {frame.format.toUpperCase()}, {frame.depth} bit
      </Text>
    </Link>
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
