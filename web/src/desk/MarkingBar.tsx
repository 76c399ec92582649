import { Flex, Input, NativeSelect, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import type { Desk, Sweep } from "../api/client";
import { Act, Key, Lead } from "../theme/controls";
import { type Actions, isBusy } from "./actions";
import { fromSlide, isLong, LARGEST, SMALLEST, toSlide } from "./brush";
import { chosen } from "./look";
import { useDeskState } from "./state";

const METHODS: [Sweep["method"], string][] = [
  ["auto", "auto"],
  ["close", "close"],
  ["weave", "weave"],
];

/** Under the picture: what marking needs, and Fill. */
export function MarkingBar({ desk, actions }: { desk: Desk; actions: Actions }) {
  const { selected, size, softness, erase, flipped, masks, set } = useDeskState();
  const sweep = chosen(desk, selected);
  const busy = sweep ? isBusy(sweep) : false;
  const away = erase !== flipped;
  return (
    <Flex
      role="toolbar"
      aria-label="Marking"
      align="center"
      justify="center"
      gap="10px"
      h="42px"
      px="10px"
      flexShrink={0}
      borderTop="1px solid"
      borderColor="line"
      bg="panel"
      whiteSpace="nowrap"
    >
      <Flex>
        <Act pressed={!away} keys="T" tip="Paint what goes" onClick={() => set({ erase: false })}>
          Add
        </Act>
        <Act
          pressed={away}
          keys="T"
          tip="Take away from the mark; the key works while it is held"
          onClick={() => set({ erase: true })}
        >
          Take away
        </Act>
      </Flex>
      <Amount
        label="Size"
        unit="px"
        value={size}
        least={SMALLEST}
        most={LARGEST}
        tip="Keys: [ and ]"
        onChange={(value) => set({ size: value })}
      />
      <input
        type="range"
        aria-label="Brush size"
        min={0}
        max={100}
        step={1}
        value={toSlide(size)}
        onChange={(event) => set({ size: fromSlide(Number(event.target.value)) })}
        style={{ width: 110, accentColor: "#1b1b1a" }}
      />
      <Amount
        label="Soft edge"
        unit="%"
        value={Math.round(softness * 100)}
        least={0}
        most={100}
        onChange={(value) => set({ softness: value / 100 })}
      />
      <Act pressed={masks} keys="M" tip="Show masks and flags" onClick={() => set({ masks: !masks })}>
        Masks
      </Act>
      {sweep && (
        <>
          <Text>Method</Text>
          <NativeSelect.Root size="xs" w="86px" disabled={busy}>
            <NativeSelect.Field
              aria-label="Method"
              h="28px"
              fontSize="14px"
              bg="sheet"
              value={sweep.method}
              onChange={(event) => actions.change(sweep, { method: event.target.value as Sweep["method"] })}
            >
              {METHODS.map(([value, label]) => (
                <option key={value} value={value}>
                  {label}
                </option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
          {!sweep.takes.length && !busy && (
            <Act
              tip="Remove all strokes of this mark"
              disabled={!sweep.strokes.length}
              onClick={() => actions.clear(sweep)}
            >
              Clear
            </Act>
          )}
        </>
      )}
      {busy && sweep?.run ? (
        <Act
          keys=""
          tip="Takes that are ready stay"
          onClick={() => sweep.run && actions.cancel(sweep.run.id)}
        >
          Cancel fill
        </Act>
      ) : (
        <>
          {sweep && isLong(sweep) && (
            <Act
              keys="G"
              tip="Section by section, each on top of the last"
              onClick={() => actions.fill(sweep, { staged: true })}
            >
              In stages
            </Act>
          )}
          <Act
            keys="Q"
            tip="One rough take in about a second"
            disabled={!sweep?.strokes.length}
            onClick={() => sweep && actions.fill(sweep, { takes: 1, quality: "fast" })}
          >
            Quick look
          </Act>
          <Lead
            disabled={!sweep?.strokes.length}
            keys="F"
            tip="Make three takes"
            onClick={() => sweep && actions.fill(sweep)}
          >
            {sweep?.takes.length ? "Three more" : "Fill"} <Key>F</Key>
          </Lead>
        </>
      )}
    </Flex>
  );
}

type AmountProps = {
  label: string;
  unit: string;
  value: number;
  least: number;
  most: number;
  tip?: string;
  onChange: (value: number) => void;
};

function Amount({ label, unit, value, least, most, tip, onChange }: AmountProps) {
  const [text, setText] = useState(String(value));
  useEffect(() => setText(String(value)), [value]);
  const accept = () => {
    const wanted = Number.parseFloat(text.replace(",", "."));
    if (Number.isFinite(wanted)) onChange(Math.min(most, Math.max(least, Math.round(wanted))));
    setText(String(value));
  };
  return (
    <Flex as="label" align="center" gap="6px" title={tip}>
      {label}
      <Flex
        align="center"
        bg="sheet"
        border="1px solid"
        borderColor="line"
        borderRadius="3px"
        h="28px"
        pr="6px"
      >
        <Input
          variant="subtle"
          bg="transparent"
          size="xs"
          h="24px"
          w="44px"
          px="4px"
          textAlign="right"
          fontSize="14px"
          inputMode="numeric"
          aria-label={`${label} in ${unit}`}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onBlur={accept}
          onKeyDown={(event) => {
            if (event.key === "Enter") event.currentTarget.blur();
          }}
        />
        <Text color="soft" fontSize="13px">
          {unit}
        </Text>
      </Flex>
    </Flex>
  );
}
