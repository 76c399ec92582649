import { Amount } from "../../theme/controls";
import * as words from "../../words/words";
import { LARGEST, SMALLEST } from "../reading/brush";
import { useStateOf } from "../state/state";

/** Size and softness of whatever round brush is in hand. */
export function BrushShape() {
  const { size, softness, set } = useStateOf("size", "softness", "set");
  return (
    <>
      <Amount
        label={words.bars.size}
        unit={words.units.px}
        value={size}
        least={SMALLEST}
        most={LARGEST}
        tip={words.bars.sizeTip}
        onChange={(value) => set({ size: value })}
      />
      <Amount
        label={words.bars.soft}
        unit="%"
        value={Math.round(softness * 100)}
        least={0}
        most={100}
        tip={words.bars.softTip}
        onChange={(value) => set({ softness: value / 100 })}
      />
    </>
  );
}
