import { Flex, Text } from "@chakra-ui/react";
import { Act, Amount } from "../../theme/controls";
import { Do } from "../doing/commands/Do";
import { useStateOf } from "../state/state";
import { Bar } from "./Bar";
import { BrushShape } from "./BrushShape";

const BRUSHES = ["clone", "heal", "bringBack"] as const;

/** Under the picture while a touch-up brush is in hand: what it is set to, and what is said of the last stroke. */
export function TouchBar() {
  const { tool, strength, source, set } = useStateOf("tool", "strength", "source", "set");
  return (
    <Bar label="Touching up">
      <Do id="brush" pressed={undefined} tip="Back to marking what goes">
        Mark
      </Do>
      <Flex role="group" aria-label="Touch-up brushes">
        {BRUSHES.map((brush) => (
          <Do key={brush} id={brush} />
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
      {tool !== "bring back" && (
        <>
          <Do id="source" tip="Click in the picture where to copy from">
            {source ? "Source" : "Set source"}
          </Do>
          {tool === "heal" && source && (
            <Act tip="Each stroke finds a source of its own" onClick={() => set({ source: null })}>
              Find it
            </Act>
          )}
          <HeldSource />
        </>
      )}
      <Said />
    </Bar>
  );
}

/** How the source is held while strokes are made of it. */
function HeldSource() {
  const { source, aligned, mirror, turn, set } = useStateOf("source", "aligned", "mirror", "turn", "set");
  return (
    <>
      <Act
        pressed={aligned}
        tip="The source moves along from stroke to stroke; off: each stroke starts at it again"
        onClick={() => set({ aligned: !aligned, source: source && { ...source, to: null } })}
      >
        Aligned
      </Act>
      <Act
        pressed={mirror}
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
  );
}

/** What there is to point out about the last stroke, or to do before the first. */
function Said() {
  const { cautions, tool, source } = useStateOf("cautions", "tool", "source");
  const next = tool === "clone" && !source ? "Hold C and click where to copy from." : "";
  return (
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
      {cautions.length ? `⚠ ${cautions.join(" ")}` : next}
    </Text>
  );
}
