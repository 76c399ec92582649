import { Flex } from "@chakra-ui/react";
import type { Desk, PieceSize } from "../../api/client";
import { Choice, Key, Lead } from "../../theme/controls";
import * as words from "../../words/words";
import { Do } from "../doing/commands/Do";
import { isLong } from "../reading/brush";
import { chosen, isBusy } from "../reading/sweeps";
import { useStateOf } from "../state/state";
import { Bar } from "./Bar";
import { BrushShape } from "./BrushShape";

const TOOLS = ["brush", "outline", "corners", "box", "pieces"] as const;
const SIZES: PieceSize[] = ["small", "medium", "large"];

/** Under the picture: what marking needs, and Fill. */
export function MarkingBar({ desk }: { desk: Desk }) {
  const { tool, pieceSize, selected, pricing, set } = useStateOf(
    "tool",
    "pieceSize",
    "selected",
    "pricing",
    "set",
  );
  const sweep = chosen(desk, selected);
  return (
    <Bar label={words.bars.marking}>
      <Flex role="group" aria-label={words.bars.waysToDraw}>
        {TOOLS.map((each) => (
          <Do key={each} id={each} />
        ))}
      </Flex>
      <Do id="clone" pressed={undefined} tip={words.bars.touchUpTip}>
        {words.bars.touchUp}
      </Do>
      {tool === "brush" && <BrushShape />}
      {tool === "pieces" && (
        <Choice
          label={words.bars.pieceSize}
          value={pieceSize}
          among={SIZES}
          said={(each) => words.named.pieceSize[each]}
          wide="96px"
          onChange={(next) => set({ pieceSize: next })}
        />
      )}
      <Do id="takeAway" keys="T" />
      {tool !== "pieces" && <Do id="cling" />}
      <Do id="guard" />
      <Do id="masks" />
      {sweep && isBusy(sweep) ? (
        <Do id="cancelFill" />
      ) : (
        <>
          {sweep && isLong(sweep) && <Do id="stages" />}
          <Do id="quick" />
          <Do id="fill" as={Lead}>
            {sweep?.method === "model" && pricing.includes(sweep.id)
              ? words.bars.asking
              : sweep?.takes.length
                ? words.bars.threeMore
                : words.bars.fill}{" "}
            <Key>F</Key>
          </Do>
        </>
      )}
    </Bar>
  );
}
