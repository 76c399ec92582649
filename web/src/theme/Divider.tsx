import { Box } from "@chakra-ui/react";
import { useRef } from "react";
import * as words from "../words/words";

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

const STEP = 16;

/** The edge of a panel: dragged or moved with arrows it makes the panel wider, Enter or two clicks fold it away. */
export function Divider({ label, of, value, least, most, side, folded, onChange, onFold }: Props) {
  const start = useRef<{ at: number; value: number } | null>(null);
  const across = side === "left";
  const to = (next: number) => onChange(Math.round(Math.min(most, Math.max(least, next))));
  const at = (event: { clientX: number; clientY: number }) => (across ? event.clientX : -event.clientY);
  const keys: Record<string, () => void> = {
    [across ? "ArrowRight" : "ArrowUp"]: () => to(value + STEP),
    [across ? "ArrowLeft" : "ArrowDown"]: () => to(value - STEP),
    Home: () => to(least),
    End: () => to(most),
    Enter: () => onFold(!folded),
  };
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
      title={folded ? words.controls.foldedTip : words.controls.dividerTip}
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
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        start.current = { at: at(event), value: folded ? 0 : value };
      }}
      onPointerMove={(event) => {
        if (!start.current) return;
        const moved = at(event) - start.current.at;
        if (Math.abs(moved) < 3) return;
        const next = start.current.value + moved;
        if (next < least / 2) return onFold(true);
        if (folded) onFold(false);
        to(next);
      }}
      onPointerUp={() => {
        start.current = null;
      }}
      onPointerCancel={() => {
        start.current = null;
      }}
      onKeyDown={(event) => {
        const does = keys[event.key];
        if (!does || event.ctrlKey || event.altKey || event.metaKey) return;
        event.preventDefault();
        event.stopPropagation();
        does();
      }}
    >
      <Box bg="edge" borderRadius="1px" w={across ? "3px" : "34px"} h={across ? "34px" : "3px"} />
    </Box>
  );
}
