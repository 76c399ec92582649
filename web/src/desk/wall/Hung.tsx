import { Box, Flex, Text } from "@chakra-ui/react";
import { type RefObject, useEffect, useRef, useState } from "react";
import type { Look } from "../../api/views";
import { lookQuery } from "../../api/views";
import * as words from "../../words/words";
import type { Picture } from "../canvas/picture";
import { PictureViewer } from "../canvas/viewer";

type Props = {
  picture: Picture;
  look: Look;
  name: string;
  notes: string;
  stands: boolean;
  picked: boolean;
  out: boolean;
  choose: () => void;
  joined: (viewer: PictureViewer | null) => void;
  leads: () => void;
  moved: () => void;
};

/** One take on the wall. */
export function Hung(props: Props) {
  const { look, name, notes, stands, picked, out, choose, leads } = props;
  const place = useRef<HTMLDivElement>(null);
  const viewer = useHungViewer(place, props);
  const key = lookQuery(look);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the same words are the same look
  useEffect(() => viewer?.looks.show(look, []), [viewer, key]);
  return (
    <Flex
      direction="column"
      minW="0"
      minH="0"
      border="3px solid"
      borderColor={stands ? "marigold" : "transparent"}
      bg="#00000022"
      onPointerEnter={leads}
      onPointerDown={leads}
      opacity={out && !stands ? 0.4 : 1}
      role="group"
      aria-label={words.wall.hung(name, picked, out)}
      aria-current={stands}
    >
      <Box ref={place} flex="1" minH="0" cursor="grab" data-testid={`hung-${name}`} />
      <button type="button" aria-pressed={stands} onClick={choose}>
        <Flex px="8px" h="26px" align="center" gap="10px" bg={stands ? "raised" : "panel"}>
          <Text fontWeight={700}>{name}</Text>
          {picked && <Text fontWeight={700}>{words.wall.pickTag}</Text>}
          {out && <Text fontWeight={700}>{words.wall.outName}</Text>}
          <Text color="soft" fontSize="13px" truncate>
            {notes}
          </Text>
        </Flex>
      </button>
    </Flex>
  );
}

/** A view of its own, which tells the wall when it is there, moved or clicked. */
function useHungViewer(place: RefObject<HTMLElement | null>, { picture, joined, moved, choose }: Props) {
  const [viewer, setViewer] = useState<PictureViewer | null>(null);
  const told = useRef({ joined, moved, choose });
  told.current = { joined, moved, choose };
  const { id, width, height } = picture;
  useEffect(() => {
    if (!place.current) return;
    const element = place.current;
    const made = new PictureViewer(element, { id, width, height }, () => {
      const at = made.camera.place();
      if (!at) return;
      element.dataset.place = [at.x, at.y, 1000 * at.scale].map(Math.round).join(" ");
      told.current.moved();
    });
    made.osd.addHandler("canvas-click", (event) => {
      if ((event as { quick?: boolean }).quick) told.current.choose();
    });
    made.osd.addHandler("canvas-drag", () => made.camera.unfit());
    made.osd.addHandler("canvas-scroll", () => made.camera.unfit());
    setViewer(made);
    told.current.joined(made);
    return () => {
      told.current.joined(null);
      made.destroy();
      setViewer(null);
    };
  }, [id, width, height, place]);
  return viewer;
}
