import { Box, Text } from "@chakra-ui/react";
import { type DragEvent, useEffect, useMemo, useState } from "react";
import type { Shoot, Standing } from "../api/client";
import { useStandings } from "../api/queries";
import * as words from "../words/words";
import { among, type Filter, type Order } from "./among";
import { Chosen } from "./Chosen";
import { FrameGrid } from "./FrameGrid";
import { dropped } from "./files";
import { ShootHead } from "./ShootHead";
import { Sorting } from "./Sorting";
import { Uploads } from "./Uploads";
import { useUploads } from "./useUploads";
import { Watched } from "./Watched";

const NONE: Map<number, Standing> = new Map();

type Props = {
  shoot: Shoot;
  sought?: string;
  /** Files that were dropped beside all shoots, and this one was made of. */
  incoming?: File[];
};

/** One shoot: its frames, and a place to drop more. */
export function ShootSection({ shoot, sought = "", incoming }: Props) {
  const { uploads, since, take, forget } = useUploads(shoot.id);
  const { over, hand } = useDrop(take);
  const [watching, setWatching] = useState(false);
  const [filter, setFilter] = useState<Filter>("all");
  const [order, setOrder] = useState<Order>("name");
  const [picked, setChosen] = useState<number[]>([]);
  const standings = useStandings(shoot.id);
  const known = standings.data ?? NONE;
  const asked = sought.trim().toLowerCase();
  // A shoot that is named so is shown with all its pictures.
  const wanted = shoot.name.toLowerCase().includes(asked) ? "" : asked;
  const shown = useMemo(
    () => among(shoot.frames, known, filter, order, wanted),
    [shoot.frames, known, filter, order, wanted],
  );
  // Frames that are gone are chosen no more.
  const chosen = picked.filter((each) => shoot.frames.some((frame) => frame.id === each));
  // biome-ignore lint/correctness/useExhaustiveDependencies: taken once, when they come
  useEffect(() => {
    if (incoming) take(incoming);
  }, [incoming]);

  if (wanted && !shown.length) return null;
  return (
    <Box
      as="section"
      aria-label={shoot.name}
      mb="26px"
      p="12px"
      border="1px solid"
      borderColor={over ? "ink" : "line"}
      borderRadius="4px"
      bg={over ? "raised" : "sheet"}
      {...hand}
    >
      <ShootHead shoot={shoot} over={over} watching={watching} watch={setWatching} take={take} />
      {watching && <Watched shoot={shoot} close={() => setWatching(false)} />}
      {uploads.length > 0 && <Uploads uploads={uploads} since={since} forget={forget} />}
      {shoot.frames.length > 1 && (
        <Sorting standings={known} filter={filter} setFilter={setFilter} order={order} setOrder={setOrder} />
      )}
      {shoot.frames.length === 0 && !uploads.length && (
        <Text color="soft" py="14px">
          {words.shoots.noPictures}
        </Text>
      )}
      <FrameGrid frames={shown} standings={known} chosen={chosen} choose={setChosen} />
      {chosen.length > 0 && <Chosen shoot={shoot} standings={known} chosen={chosen} choose={setChosen} />}
    </Box>
  );
}

/** Files that are dragged over a shoot, and dropped there. */
function useDrop(take: (files: File[]) => void) {
  const [over, setOver] = useState(false);
  const hold = (event: DragEvent, still: boolean) => {
    event.preventDefault();
    event.stopPropagation();
    setOver(still);
  };
  const hand = {
    onDragOver: (event: DragEvent) => hold(event, true),
    onDragLeave: () => setOver(false),
    onDrop: (event: DragEvent) => {
      hold(event, false);
      dropped(event.dataTransfer.items).then(take);
    },
  };
  return { over, hand };
}
