import { Box } from "@chakra-ui/react";
import { useWindowVirtualizer } from "@tanstack/react-virtual";
import { type PointerEvent, type RefObject, useLayoutEffect, useRef, useState } from "react";
import type { Frame, Standing } from "../api/client";
import { chosenBy } from "../desk/reading/chosenBy";
import { type Area, rowsIn, touched } from "./among";
import { FrameCard } from "./FrameCard";

type Props = {
  frames: Frame[];
  standings: Map<number, Standing>;
  chosen: number[];
  choose: (frames: number[]) => void;
};
/** A box is meant from so far on, pixels; less is a click. */
const MEANT = 5;

/** Frames in rows, of which only those near the window are there: a shoot of hundreds scrolls like one of ten. */
export function FrameGrid({ frames, standings, chosen, choose }: Props) {
  const room = useRef<HTMLDivElement>(null);
  const rows = rowsIn(useWidth(room));
  const grid = useWindowVirtualizer({
    count: Math.ceil(frames.length / rows.columns),
    estimateSize: () => rows.tall + rows.gap,
    overscan: 3,
    scrollMargin: room.current?.offsetTop ?? 0,
  });
  const order = frames.map((frame) => frame.id);

  const { area, hand } = useArea(room, chosen, choose, (drawn) =>
    touched(drawn, frames.length, rows).map((k) => order[k] as number),
  );
  return (
    <Box
      ref={room}
      position="relative"
      h={`${Math.max(grid.getTotalSize() - rows.gap, 0)}px`}
      {...hand}
      userSelect={area ? "none" : undefined}
    >
      {grid.getVirtualItems().map((row) => (
        <Box
          key={row.key}
          position="absolute"
          left="0"
          right="0"
          top={`${row.start - grid.options.scrollMargin}px`}
          h={`${rows.tall}px`}
          display="grid"
          gridTemplateColumns={`repeat(${rows.columns}, minmax(0, 1fr))`}
          gap={`${rows.gap}px`}
        >
          {frames.slice(row.index * rows.columns, (row.index + 1) * rows.columns).map((frame) => (
            <FrameCard
              key={frame.id}
              frame={frame}
              standing={standings.get(frame.id)}
              chosen={chosen.includes(frame.id)}
              choose={(keys) => choose(chosenBy(order, chosen, frame.id, keys))}
            />
          ))}
        </Box>
      ))}
      {area && (
        <Box
          position="absolute"
          pointerEvents="none"
          border="1px dashed var(--chakra-colors-ink)"
          bg="rgba(242,167,27,.15)"
          left={`${area.left}px`}
          top={`${area.top}px`}
          w={`${area.right - area.left}px`}
          h={`${area.bottom - area.top}px`}
        />
      )}
    </Box>
  );
}

/** How wide an element is now, px. */
function useWidth(of: RefObject<HTMLElement | null>) {
  const [width, setWidth] = useState(1000);
  useLayoutEffect(() => {
    const element = of.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setWidth(element.clientWidth));
    watch.observe(element);
    setWidth(element.clientWidth);
    return () => watch.disconnect();
  }, [of]);
  return width;
}

/** A box drawn from between the cards, which chooses those that it touches; with Shift or Ctrl more than there are. */
function useArea(
  room: RefObject<HTMLDivElement | null>,
  chosen: number[],
  choose: (frames: number[]) => void,
  within: (drawn: Area) => number[],
) {
  const [area, setArea] = useState<Area | null>(null);
  const from = useRef<{ x: number; y: number; kept: number[] } | null>(null);
  const place = (event: PointerEvent) => {
    const edge = room.current?.getBoundingClientRect();
    return { x: event.clientX - (edge?.left ?? 0), y: event.clientY - (edge?.top ?? 0) };
  };
  const down = (event: PointerEvent) => {
    // Cards are clicked; a box is drawn from between them.
    if (event.button !== 0 || (event.target as HTMLElement).closest(".card")) return;
    from.current = { ...place(event), kept: event.shiftKey || event.ctrlKey ? chosen : [] };
    room.current?.setPointerCapture(event.pointerId);
  };
  const move = (event: PointerEvent) => {
    if (!from.current) return;
    const { x, y } = place(event);
    const [left, right] = [from.current.x, x].sort((a, b) => a - b) as [number, number];
    const [top, bottom] = [from.current.y, y].sort((a, b) => a - b) as [number, number];
    if (right - left + bottom - top < MEANT) return;
    const drawn = { left, top, right, bottom };
    setArea(drawn);
    choose([...new Set([...from.current.kept, ...within(drawn)])]);
  };
  const up = () => {
    if (from.current && !area) choose(from.current.kept);
    from.current = null;
    setArea(null);
  };
  return { area, hand: { onPointerDown: down, onPointerMove: move, onPointerUp: up, onPointerCancel: up } };
}
