import { Amount } from "../../theme/controls";
import { LARGEST, SMALLEST } from "../reading/brush";
import { useStateOf } from "../state/state";

/** Size and softness of whatever round brush is in hand. */
export function BrushShape() {
  const { size, softness, set } = useStateOf("size", "softness", "set");
  return (
    <>
      <Amount
        label="Size"
        unit="px"
        value={size}
        least={SMALLEST}
        most={LARGEST}
        tip="Keys: [ and ], or hold S and drag"
        onChange={(value) => set({ size: value })}
      />
      <Amount
        label="Soft"
        unit="%"
        value={Math.round(softness * 100)}
        least={0}
        most={100}
        tip="How much of the edge fades: hard to meet edges, soft to blend tones"
        onChange={(value) => set({ softness: value / 100 })}
      />
    </>
  );
}
