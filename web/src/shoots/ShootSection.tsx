import { Box, Flex, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import type { Shoot, Standing } from "../api/client";
import { shootsKey, useStandings } from "../api/queries";
import { Act, Choice } from "../theme/controls";
import { words } from "../words/words";
import { among, counts, type Filter, type Order, STATES } from "./among";
import { Budget } from "./Budget";
import { Chosen } from "./Chosen";
import { FrameGrid } from "./FrameGrid";
import { ACCEPTED, dropped } from "./files";
import { ShootName } from "./ShootName";
import { Uploads } from "./Uploads";
import { type Upload, upload } from "./upload";
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
  const queries = useQueryClient();
  const [uploads, setUploads] = useState<Upload[]>([]);
  const [since, setSince] = useState(0);
  const [over, setOver] = useState(false);
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
  const many = counts(known.values());
  const filters: Filter[] = ["all", ...STATES.filter((state) => many.has(state) || state === filter)];
  const told = STATES.filter((state) => many.has(state))
    .map((state) => words.shoots.inState(many.get(state) ?? 0, words.named.frameState[state]))
    .join(" · ");
  const chooser = useRef<HTMLInputElement>(null);

  const take = async (files: File[]) => {
    if (!files.length) return;
    setSince(performance.now());
    await upload(shoot.id, files, (changed) =>
      setUploads((known) =>
        known.some((u) => u.id === changed.id)
          ? known.map((u) => (u.id === changed.id ? changed : u))
          : [...known, changed],
      ),
    );
    queries.invalidateQueries({ queryKey: shootsKey });
    setUploads((known) => known.filter((u) => u.state !== "done"));
  };

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
      onDragOver={(event) => {
        event.preventDefault();
        event.stopPropagation();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        event.stopPropagation();
        setOver(false);
        dropped(event.dataTransfer.items).then(take);
      }}
    >
      <Flex align="baseline" gap="4px 12px" mb="10px" wrap="wrap" whiteSpace="nowrap">
        <ShootName shoot={shoot} />
        <Text color="soft">{words.shoots.pictures(shoot.frames.length)}</Text>
        <Budget shoot={shoot} />
        <Box flex="1" />
        <Act pressed={watching} tip={words.shoots.watchTip} onClick={() => setWatching(!watching)}>
          {shoot.watched ? words.shoots.watching : words.shoots.watch}
        </Act>
        <Text color="soft" display={over ? "block" : { base: "none", xl: "block" }}>
          {over ? words.shoots.letGoToAdd : words.shoots.dropHere}
        </Text>
        <Act onClick={() => chooser.current?.click()}>{words.shoots.chooseFiles}</Act>
        <input
          ref={chooser}
          type="file"
          multiple
          hidden
          accept={ACCEPTED}
          aria-label={words.shoots.picturesFor(shoot.name)}
          onChange={(event) => {
            take([...(event.target.files ?? [])]);
            event.target.value = "";
          }}
        />
      </Flex>
      {watching && <Watched shoot={shoot} close={() => setWatching(false)} />}
      {uploads.length > 0 && <Uploads uploads={uploads} since={since} forget={() => setUploads([])} />}
      {shoot.frames.length > 1 && (
        <Flex gap="12px" align="center" mb="10px" fontSize="13px">
          <Text color="soft">{words.shoots.show}</Text>
          <Choice
            label={words.shoots.show}
            value={filter}
            among={filters}
            said={(each) => (each === "all" ? words.shoots.anyState : words.named.frameState[each])}
            wide="120px"
            onChange={setFilter}
          />
          <Text color="soft">{told}</Text>
          <Box flex="1" />
          <Text color="soft">{words.shoots.sortedBy}</Text>
          <Choice
            label={words.shoots.sortedBy}
            value={order}
            among={["name", "state", "newest"]}
            said={(each) => words.shoots.orders[each]}
            wide="96px"
            onChange={setOrder}
          />
        </Flex>
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
