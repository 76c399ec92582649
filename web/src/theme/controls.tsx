import {
  Button,
  type ButtonProps,
  chakra,
  Flex,
  Input,
  type InputProps,
  NativeSelect,
  Text,
} from "@chakra-ui/react";
import { type ReactNode, useEffect, useState } from "react";
import * as words from "../words/words";
import { tipped } from "./tip";

/** A key, as shown beside what it does. */
export const Key = chakra("kbd", {
  base: {
    fontFamily: "body",
    fontSize: "12px",
    lineHeight: "16px",
    px: "5px",
    border: "1px solid",
    borderColor: "edge",
    borderRadius: "3px",
    bg: "sheet",
    color: "ink",
  },
});

export type ActProps = ButtonProps & { keys?: string; tip?: string; pressed?: boolean };

/** A button with its key in the tooltip; pressed ones are dark. */
export function Act({ keys, tip, pressed, children, ...rest }: ActProps) {
  const said = [tip, keys ? words.controls.key(keys) : ""].filter(Boolean).join(". ");
  return (
    <Button
      size="xs"
      h="28px"
      px="10px"
      fontSize="14px"
      fontWeight={pressed ? 700 : 400}
      variant="plain"
      borderRadius="3px"
      border="1px solid"
      borderColor={pressed ? "ink" : "line"}
      bg={pressed ? "ink" : "sheet"}
      color={pressed ? "sheet" : "ink"}
      _hover={{ bg: pressed ? "ink" : "raised" }}
      _disabled={{ opacity: 0.5, cursor: "default" }}
      {...tipped(said)}
      aria-pressed={pressed}
      {...rest}
    >
      {children}
    </Button>
  );
}

/** A button among others in a narrow panel. */
export function Minor(props: ActProps) {
  return <Act h="24px" fontSize="13px" px="7px" {...props} />;
}

/** A small thing to do, in words. */
export function Small(props: ActProps) {
  return (
    <Act
      h="auto"
      minW="0"
      px="0"
      fontSize="13px"
      border="none"
      bg="transparent"
      color="soft"
      textDecoration="underline"
      textUnderlineOffset="2px"
      _hover={{ color: "ink" }}
      {...props}
      pressed={undefined}
    />
  );
}

type ChoiceProps<T extends string> = {
  label: string;
  value: T;
  among: readonly T[];
  /** What is shown for a value, the value itself if this is not given: two values may be called the same. */
  said?: (value: T) => string;
  wide: string;
  disabled?: boolean;
  onChange: (value: T) => void;
};

/** One of a few words. */
export function Choice<T extends string>(props: ChoiceProps<T>) {
  const { label, value, among, said = (each) => each, wide, disabled, onChange } = props;
  return (
    <NativeSelect.Root size="xs" w={wide} disabled={disabled}>
      <NativeSelect.Field
        aria-label={label}
        h="26px"
        fontSize="13px"
        bg="sheet"
        value={value}
        onChange={(event) => onChange(event.target.value as T)}
      >
        {among.map((each) => (
          <option key={each} value={each}>
            {said(each)}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  );
}

type TickProps = {
  checked: boolean;
  disabled?: boolean;
  "aria-label"?: string;
  onChange: (checked: boolean) => void;
};

/** How long a tick stands before the server has said the same, ms. */
const AHEAD = 3_000;

/** A tick that shows a click at once, and what the server says once it does. */
export function Tick({ checked, onChange, ...rest }: TickProps) {
  const [wish, setWish] = useState<boolean | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: whatever comes from the server counts
  useEffect(() => setWish(null), [checked]);
  useEffect(() => {
    if (wish === null) return;
    const over = setTimeout(() => setWish(null), AHEAD);
    return () => clearTimeout(over);
  }, [wish]);
  return (
    <input
      type="checkbox"
      checked={wish ?? checked}
      style={{ accentColor: "var(--chakra-colors-ink)" }}
      onChange={(event) => {
        setWish(event.target.checked);
        onChange(event.target.checked);
      }}
      {...rest}
    />
  );
}

type RadioProps = {
  name: string;
  checked: boolean;
  choose: () => void;
  align?: "center" | "flex-start";
  children: ReactNode;
};

/** One of several that exclude each other, with what it means beside it. */
export function Radio({ name, checked, choose, align = "center", children }: RadioProps) {
  return (
    <Flex as="label" gap="8px" py="2px" minH="26px" align={align} cursor="pointer">
      <input
        type="radio"
        name={name}
        checked={checked}
        onChange={choose}
        style={{ accentColor: "var(--chakra-colors-ink)" }}
      />
      {children}
    </Flex>
  );
}

/** A line to type in. */
export function Field(props: InputProps) {
  return <Input size="xs" h="28px" bg="sheet" fontSize="14px" {...props} />;
}

type CheckProps = { label: string; checked: boolean; tip?: string; onChange: (checked: boolean) => void };

/** Something of the screen's own that is on or off, with its name beside it. */
export function Check({ label, checked, tip, onChange }: CheckProps) {
  return (
    <Flex as="label" align="center" gap="5px" fontSize="13px" {...tipped(tip)}>
      <input
        type="checkbox"
        checked={checked}
        style={{ accentColor: "var(--chakra-colors-ink)" }}
        onChange={(event) => onChange(event.target.checked)}
      />
      {label}
    </Flex>
  );
}

/** The one thing to do next. */
export function Lead(props: ActProps) {
  return (
    <Act
      bg="marigold"
      color="onMarigold"
      borderColor="#b87a06"
      fontWeight={700}
      _hover={{ bg: "#ffb733" }}
      {...props}
    />
  );
}

type AmountProps = {
  label: string;
  unit?: string;
  value: number;
  least: number;
  most: number;
  /** What numbers are rounded to. */
  step?: number;
  wide?: string;
  tip?: string;
  onChange: (value: number) => void;
};

/** A number that can be typed, with its unit. */
export function Amount(props: AmountProps) {
  const { label, unit, value, least, most, step = 1, wide = "38px", tip, onChange } = props;
  const [text, setText] = useState(String(value));
  useEffect(() => setText(String(value)), [value]);
  const accept = () => {
    const wanted = Number.parseFloat(text.replace(",", "."));
    const rounded = +(Math.round(wanted / step) * step).toFixed(4);
    const next = Math.min(most, Math.max(least, rounded));
    if (Number.isFinite(wanted) && next !== value) onChange(next);
    setText(String(value));
  };
  return (
    <Flex as="label" align="center" gap="6px" {...tipped(tip)}>
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
          w={wide}
          px="4px"
          textAlign="right"
          fontSize="14px"
          inputMode="numeric"
          aria-label={unit ? words.controls.inUnit(label, unit) : label}
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
