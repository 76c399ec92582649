import { Box } from "@chakra-ui/react";
import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import * as words from "../words/words";
import { tipped } from "./tip";

type Props = {
  label: string;
  /** The panel's id, and how far it reaches, in pixels. */
  of: string;
  value: number;
  least: number;
  most: number;
  /** Where the panel lies: at the left of what is divided, or at its bottom. */
  side: "left" | "bottom";
  folded: boolean;
  onChange: (value: number) => void;
  onFold: (folded: boolean) => void;
};

/** How far an arrow moves an edge, px. */
const STEP = 16;
/** What is moved less than this was pressed, not dragged, px. */
const LEAST_MOVE = 3;

/** The edge of a panel: dragged or moved with arrows it makes the panel wider, Enter or two clicks fold it away. */
export function Divider(props: Props) {
  const { label, of, value, most, side, folded, onFold } = props;
  const across = side === "left";
  return (
    <Box
      role="separator"
      tabIndex={0}
      aria-label={label}
      aria-controls={folded ? undefined : of}
      aria-orientation={across ? "vertical" : "horizontal"}
      aria-valuenow={folded ? 0 : value}
      aria-valuemin={0}
      aria-valuemax={most}
      aria-valuetext={folded ? words.controls.folded : words.controls.pixels(value)}
      {...tipped(folded ? words.controls.foldedTip : words.controls.dividerTip)}
      flexShrink={0}
      w={across ? "7px" : "100%"}
      h={across ? "auto" : "7px"}
      cursor={across ? "col-resize" : "row-resize"}
      bg="panel"
      borderRightWidth={across ? "1px" : "0"}
      borderTopWidth={across ? "0" : "1px"}
      borderColor="line"
      display="grid"
      placeItems="center"
      css={{ touchAction: "none" }}
      _hover={{ bg: "line" }}
      onDoubleClick={() => onFold(!folded)}
      {...useDragged(props)}
      onKeyDown={byKeys(props)}
    >
      <Box bg="edge" borderRadius="1px" w={across ? "3px" : "34px"} h={across ? "34px" : "3px"} />
    </Box>
  );
}

const within = ({ least, most }: Props, next: number) => Math.round(Math.min(most, Math.max(least, next)));

/** Dragging the edge; below half of the least it folds. */
function useDragged(props: Props) {
  const { value, least, side, folded, onChange, onFold } = props;
  const start = useRef<{ at: number; value: number } | null>(null);
  const at = (event: PointerEvent) => (side === "left" ? event.clientX : -event.clientY);
  const end = () => {
    start.current = null;
  };
  return {
    onPointerDown: (event: PointerEvent) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      start.current = { at: at(event), value: folded ? 0 : value };
    },
    onPointerMove: (event: PointerEvent) => {
      if (!start.current) return;
      const moved = at(event) - start.current.at;
      if (Math.abs(moved) < LEAST_MOVE) return;
      const next = start.current.value + moved;
      if (next < least / 2) return onFold(true);
      if (folded) onFold(false);
      onChange(within(props, next));
    },
    onPointerUp: end,
    onPointerCancel: end,
  };
}

function byKeys(props: Props) {
  const { value, least, most, side, folded, onChange, onFold } = props;
  const to = (next: number) => onChange(within(props, next));
  const [more, less] = side === "left" ? ["ArrowRight", "ArrowLeft"] : ["ArrowUp", "ArrowDown"];
  const keys: Record<string, () => void> = {
    [more]: () => to(value + STEP),
    [less]: () => to(value - STEP),
    Home: () => to(least),
    End: () => to(most),
    Enter: () => onFold(!folded),
  };
  return (event: KeyboardEvent) => {
    const does = keys[event.key];
    if (!does || event.ctrlKey || event.altKey || event.metaKey) return;
    event.preventDefault();
    event.stopPropagation();
    does();
  };
}
