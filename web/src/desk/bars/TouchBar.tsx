import { Flex, Text } from "@chakra-ui/react";
import { Act, Amount } from "../../theme/controls";
import * as words from "../../words/words";
import { Do } from "../doing/commands/Do";
import { useStateOf } from "../state/state";
import { Bar } from "./Bar";
import { BrushShape } from "./BrushShape";

const BRUSHES = ["clone", "heal", "bringBack"] as const;

/** Under the picture while a touch-up brush is in hand: what it is set to, and what is said of the last stroke. */
export function TouchBar() {
  const { tool, strength, source, set } = useStateOf("tool", "strength", "source", "set");
  return (
    <Bar label={words.bars.touchingUp}>
      <Do id="brush" pressed={undefined} tip={words.bars.markTip}>
        {words.bars.mark}
      </Do>
      <Flex role="group" aria-label={words.bars.touchUpBrushes}>
        {BRUSHES.map((brush) => (
          <Do key={brush} id={brush} />
        ))}
      </Flex>
      <BrushShape />
      <Amount
        label={words.bars.strength}
        unit="%"
        value={strength}
        least={1}
        most={100}
        tip={words.bars.strengthTip}
        onChange={(value) => set({ strength: value })}
      />
      {tool !== "bring back" && (
        <>
          <Do id="source" tip={words.bars.sourceTip}>
            {source ? words.bars.source : words.bars.setSource}
          </Do>
          {tool === "heal" && source && (
            <Act tip={words.bars.findItTip} onClick={() => set({ source: null })}>
              {words.bars.findIt}
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
        tip={words.bars.alignedTip}
        onClick={() => set({ aligned: !aligned, source: source && { ...source, to: null } })}
      >
        {words.bars.aligned}
      </Act>
      <Act pressed={mirror} tip={words.bars.mirrorTip} onClick={() => set({ mirror: !mirror })}>
        {words.bars.mirror}
      </Act>
      <Amount
        label={words.bars.turn}
        unit="°"
        value={turn}
        least={-180}
        most={180}
        tip={words.bars.turnTip}
        onChange={(value) => set({ turn: value })}
      />
    </>
  );
}

/** What there is to point out about the last stroke, or to do before the first. */
function Said() {
  const { cautions, tool, source } = useStateOf("cautions", "tool", "source");
  const next = tool === "clone" && !source ? words.bars.setSourceFirst : "";
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
