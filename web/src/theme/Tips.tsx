import { Portal, Tooltip } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { type Tip, watchTips } from "./watchTips";

/** One tip for all that has one: hundreds of things stand on a desk, and one of them is asked about. */
export function Tips() {
  const [tip, setTip] = useState<Tip | null>(null);
  useEffect(() => {
    // From now on tips are told.
    document.documentElement.dataset.tips = "told";
    return watchTips(document, setTip);
  }, []);
  if (!tip) return null;
  return (
    <Tooltip.Root
      open
      closeOnEscape={false}
      positioning={{
        placement: "bottom-start",
        // No gap: what is said can be pointed at (WCAG 2.2, 1.4.13).
        gutter: 0,
        getAnchorRect: () => tip.of.getBoundingClientRect(),
      }}
    >
      <Portal>
        <Tooltip.Positioner>
          <Tooltip.Content
            bg="ink"
            color="sheet"
            fontSize="13px"
            lineHeight="1.3"
            borderRadius="3px"
            whiteSpace="pre-line"
            animation="none"
          >
            {tip.says}
          </Tooltip.Content>
        </Tooltip.Positioner>
      </Portal>
    </Tooltip.Root>
  );
}
