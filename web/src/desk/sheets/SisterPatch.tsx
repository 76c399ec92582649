import { Box, Text } from "@chakra-ui/react";
import { type PointerEvent, useRef, useState } from "react";
import type { Box as Area } from "../../api/client";
import { useDesk } from "../../api/queries";
import { cropUrl } from "../../api/views";
import { Sheet } from "../../theme/Sheet";
import * as words from "../../words/words";
import { pictured } from "../reading/look";
import { patchOf } from "../reading/patch";

type Props = { frame: number; take: (box: Area) => void; close: () => void };
const WIDE = 760;
const TALL = 560;

/** Another picture of the shoot, on which a box is pulled up. */
export function SisterPatch({ frame, take, close }: Props) {
  const desk = useDesk(frame);
  const room = useRef<HTMLDivElement>(null);
  const [corners, setCorners] = useState<[number, number, number, number] | null>(null);
  if (!desk.data) return null;
  const { width, height, name } = desk.data.frame;
  const scale = Math.min(WIDE / width, TALL / height, 1);
  const at = (event: PointerEvent): [number, number] => {
    const place = room.current?.getBoundingClientRect();
    return [event.clientX - (place?.left ?? 0), event.clientY - (place?.top ?? 0)];
  };
  const box = corners && patchOf(corners, scale, width, height);
  return (
    <Sheet title={words.sheets.drawFromFrame(name)} wide={`${width * scale + 30}px`} close={close}>
      <Text mb="8px">{words.sheets.drawFromSays}</Text>
      <Box
        ref={room}
        position="relative"
        w={`${width * scale}px`}
        h={`${height * scale}px`}
        cursor="crosshair"
        css={{ touchAction: "none" }}
        data-testid="sister"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          const [x, y] = at(event);
          setCorners([x, y, x, y]);
        }}
        onPointerMove={(event) => {
          if (!corners || !event.buttons) return;
          const [x, y] = at(event);
          setCorners([corners[0], corners[1], x, y]);
        }}
        onPointerUp={() => {
          if (box) take(box);
          else setCorners(null);
        }}
      >
        <img
          src={cropUrl(frame, pictured(desk.data), { x: 0, y: 0, width, height }, WIDE)}
          alt=""
          draggable={false}
          style={{ width: "100%", height: "100%" }}
        />
        {box && (
          <Box
            position="absolute"
            border="2px solid #f2a71b"
            outline="1px solid var(--chakra-colors-ink)"
            left={`${box.x * scale}px`}
            top={`${box.y * scale}px`}
            w={`${box.width * scale}px`}
            h={`${box.height * scale}px`}
          />
        )}
      </Box>
    </Sheet>
  );
}
