import { Flex, Grid } from "@chakra-ui/react";
import { type RefObject, useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Desk, Sweep } from "../../api/client";
import * as words from "../../words/words";
import type { PictureViewer } from "../canvas/viewer";
import { pictured, standing } from "../reading/look";
import { madeWith } from "../reading/made";
import { isDecided } from "../reading/sweeps";
import { SURROUNDS } from "../state/looking";
import { useStateOf } from "../state/state";
import { columns, hung } from "./arrange";
import { Hung } from "./Hung";
import { Together } from "./together";
import { WallBar } from "./WallBar";

type Props = {
  desk: Desk;
  sweep: Sweep;
  /** The desk's own view, whose place the wall takes over and gives back. */
  under: PictureViewer | null;
  /** The view that the keys for zooming mean. */
  onViewer: (viewer: PictureViewer | null) => void;
};

/** All takes of a sweep side by side, as large as the room allows, at one zoom and place. */
export function Wall({ desk, sweep, under, onViewer }: Props) {
  const { viewed, out, hang, surround, set } = useStateOf("viewed", "out", "hang", "surround", "set");
  const stands = standing(sweep, viewed);
  const takes = hung(sweep, out, hang, stands);
  const room = useRef<HTMLDivElement>(null);
  const size = useSize(room);
  const { together, joined, leads } = useTogether({ desk, sweep, under, onViewer });
  const name = (take: number) =>
    take ? words.wall.take(sweep.takes.findIndex((each) => each.id === take) + 1) : words.app.asShot;
  const across = columns(takes.length, size, desk.frame.width / desk.frame.height);
  const state = pictured(desk);
  return (
    <Flex
      as="section"
      aria-label={words.wall.wall}
      direction="column"
      position="absolute"
      inset="0"
      zIndex={2}
      bg={SURROUNDS[surround]}
    >
      <Grid
        ref={room}
        flex="1"
        minH="0"
        p="8px"
        gap="8px"
        templateColumns={`repeat(${across}, minmax(0, 1fr))`}
        gridAutoRows="minmax(0, 1fr)"
      >
        {takes.map((take) => (
          <Hung
            key={`${desk.frame.id} ${take}`}
            picture={desk.frame}
            look={{ ...state, sweep: sweep.id, take }}
            name={name(take)}
            notes={notes(sweep, take)}
            stands={take === stands}
            picked={isDecided(sweep, take)}
            out={out.includes(take)}
            choose={() => set({ viewed: take })}
            joined={(viewer) => joined(take, viewer)}
            leads={() => leads(take)}
            moved={() => together.follow(take)}
          />
        ))}
      </Grid>
      <WallBar sweep={sweep} stands={stands} name={name(stands)} visit={() => together.visit(sweep.box)} />
    </Flex>
  );
}

/** How large an element is now, px. */
function useSize(of: RefObject<HTMLElement | null>) {
  const [size, setSize] = useState({ width: 1000, height: 600 });
  useEffect(() => {
    if (!of.current) return;
    const watch = new ResizeObserver(([entry]) => entry && setSize(entry.contentRect));
    watch.observe(of.current);
    return () => watch.disconnect();
  }, [of]);
  return size;
}

/** The views of the wall move as one; the keys for zooming mean the one that leads. */
function useTogether({ sweep, under, onViewer }: Props) {
  const together = useMemo(() => new Together(), []);
  // The wall begins where the sweep is, unless something near it was looked at already.
  // biome-ignore lint/correctness/useExhaustiveDependencies: only when it is put up
  useEffect(() => {
    together.start(under, sweep.box);
    return () => together.giveBack(under);
  }, [together, sweep.id]);
  const joined = useCallback(
    (take: number, viewer: PictureViewer | null) => {
      together.join(take, viewer);
      onViewer(together.leader());
    },
    [together, onViewer],
  );
  const leads = (take: number) => {
    together.lead(take);
    onViewer(together.leader());
  };
  return { together, joined, leads };
}

function notes(sweep: Sweep, id: number): string {
  const take = sweep.takes.find((each) => each.id === id);
  if (!take) return "";
  const method = madeWith(take);
  return [id === sweep.best && sweep.takes.length > 1 ? words.tray.best : "", method]
    .filter(Boolean)
    .join(" · ");
}
