import { Flex, Slider } from "@chakra-ui/react";
import * as words from "../words/words";
import { Amount } from "./controls";

type SlideProps = {
  label: string;
  value: number;
  least: number;
  most: number;
  /** What may be typed beyond what the slider reaches. */
  typed: [least: number, most: number];
  tip: string;
  onChange: (value: number) => void;
};

/** A number in picture pixels on a slider, that can be typed too. */
export function Slide({ label, value, least, most, typed, tip, onChange }: SlideProps) {
  return (
    <Flex align="center" gap="8px">
      <Slider.Root
        flex="1"
        size="sm"
        min={least}
        max={most}
        step={1}
        value={[Math.min(most, Math.max(least, value))]}
        aria-label={[words.controls.slide(label)]}
        onValueChange={({ value: [next] }) => next !== undefined && onChange(next)}
      >
        <Slider.Control>
          <Slider.Track h="4px" bg="line">
            <Slider.Range bg="ink" />
          </Slider.Track>
          <Slider.Thumb index={0} boxSize="13px" bg="sheet" borderColor="ink" borderWidth="2px" />
        </Slider.Control>
      </Slider.Root>
      <Amount
        label={label}
        unit={words.units.px}
        value={value}
        least={typed[0]}
        most={typed[1]}
        tip={tip}
        onChange={onChange}
      />
    </Flex>
  );
}
