import { Flex, Text } from "@chakra-ui/react";
import { Act, Amount } from "../theme/controls";
import { BrushShape } from "./BrushShape";
import { TOUCH_BRUSHES } from "./canvas/touching";
import { useDeskState } from "./state";

/** Under the picture while a touch-up brush is in hand: what it is set to, and what is said of the last stroke. */
export function TouchBar() {
  const { tool, strength, source, aligned, mirror, turn, sourcing, cautions, set } = useDeskState();
  const copies = tool !== "bring back";
  return (
    <Flex
      role="toolbar"
      aria-label="Touching up"
      align="center"
      justify="center"
      gap="4px"
      css={{ "& button": { paddingInline: "7px" } }}
      h="42px"
      px="8px"
      flexShrink={0}
      borderTop="1px solid"
      borderColor="line"
      bg="panel"
      whiteSpace="nowrap"
    >
      <Act keys="5" tip="Back to marking what goes" onClick={() => set({ tool: "brush", cautions: [] })}>
        Mark
      </Act>
      <Flex role="group" aria-label="Touch-up brushes">
        {TOUCH_BRUSHES.map(([brush, label, key, tip]) => (
          <Act
            key={brush}
            pressed={tool === brush}
            keys={key}
            tip={tip}
            onClick={() => set({ tool: brush, cautions: [] })}
          >
            {label}
          </Act>
        ))}
      </Flex>
      <BrushShape />
      <Amount
        label="Strength"
        unit="%"
        value={strength}
        least={1}
        most={100}
        tip="How much of what is missing each stroke adds; many weak ones blur the grain"
        onChange={(value) => set({ strength: value })}
      />
      {copies && (
        <>
          <Act
            pressed={sourcing}
            keys="C held"
            tip="Click in the picture where to copy from"
            onClick={() => set({ sourcing: !sourcing })}
          >
            {source ? "Source" : "Set source"}
          </Act>
          {tool === "heal" && source && (
            <Act keys="" tip="Each stroke finds a source of its own" onClick={() => set({ source: null })}>
              Find it
            </Act>
          )}
          <Act
            pressed={aligned}
            keys=""
            tip="The source moves along from stroke to stroke; off: each stroke starts at it again"
            onClick={() => set({ aligned: !aligned, source: source && { ...source, to: null } })}
          >
            Aligned
          </Act>
          <Act
            pressed={mirror}
            keys=""
            tip="Left and right of the source swapped"
            onClick={() => set({ mirror: !mirror })}
          >
            Mirror
          </Act>
          <Amount
            label="Turn"
            unit="°"
            value={turn}
            least={-180}
            most={180}
            tip="The source turned clockwise"
            onChange={(value) => set({ turn: value })}
          />
        </>
      )}
      <Text
        role="status"
        fontSize="13px"
        lineHeight="1.15"
        whiteSpace="normal"
        color={cautions.length ? "alarm" : "soft"}
        fontWeight={cautions.length ? 700 : 400}
        maxW="260px"
        maxH="36px"
        overflowY="auto"
      >
        {cautions.length
          ? `⚠ ${cautions.join(" ")}`
          : tool === "clone" && !source
            ? "Hold C and click where to copy from."
            : ""}
      </Text>
    </Flex>
  );
}
