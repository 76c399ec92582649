import { Box, Flex, Text } from "@chakra-ui/react";
import { useEffect, useRef, useState } from "react";
import type { Desk, Fit, Sweep } from "../api/client";
import { Amount, Choice, Minor } from "../theme/controls";
import { Advice } from "./Advice";
import { type Actions, isBusy } from "./actions";
import { Hints } from "./Hints";
import { ModelOptions } from "./ModelOptions";
import { useDeskState } from "./state";

type Props = { sweep: Sweep; desk: Desk; actions: Actions };
const METHODS: Sweep["method"][] = ["auto", "close", "weave", "backdrop", "reflection", "model"];
/** Those that heed hints. */
const HINTED: Sweep["method"][] = ["auto", "weave", "model"];
/** How long a number rests before it counts as chosen, ms. */
const REST = 500;

/** What can be set of the chosen sweep: the method, and while it is not filled how its mask is made of the mark. */
export function SweepOptions({ sweep, desk, actions }: Props) {
  const busy = isBusy(sweep);
  const fresh = !sweep.takes.length && !busy;
  const free = desk.sweeps.filter((other) => !other.takes.length && other.id !== sweep.id);
  const next = free.find((other) => other.number > sweep.number) ?? free.at(-1);
  return (
    <Box mt="7px" fontSize="13px">
      <Flex align="center" justify="space-between">
        <Text>Method</Text>
        <Choice
          label="Method"
          value={sweep.method}
          among={METHODS}
          wide="96px"
          disabled={busy}
          onChange={(method) => actions.change(sweep, { method })}
        />
      </Flex>
      <ModelOptions sweep={sweep} desk={desk} actions={actions} />
      {HINTED.includes(sweep.method) && <Hints key={sweep.id} sweep={sweep} desk={desk} actions={actions} />}
      <Placing sweep={sweep} desk={desk} actions={actions} />
      {sweep.method === "reflection" && <Reflected sweep={sweep} desk={desk} actions={actions} />}
      {fresh && <FitPanel key={sweep.id} sweep={sweep} desk={desk} actions={actions} />}
      {fresh && <Advice sweep={sweep} desk={desk} actions={actions} />}
      {fresh && (
        <Flex gap="5px" mt="7px" wrap="wrap">
          <Minor
            tip="Remove all shapes of this mark"
            disabled={!sweep.shapes.length}
            onClick={() => actions.clear(sweep)}
          >
            Clear
          </Minor>
          <Minor tip="A sweep for each separate area" onClick={() => actions.split(sweep)}>
            Split areas
          </Minor>
          {next && (
            <Minor
              tip={`One sweep of this and ${next.name}, filled in one go`}
              onClick={() => actions.join([sweep, next])}
            >
              Join with {next.number}
            </Minor>
          )}
          <a
            href={`/api/frames/${desk.frame.id}/sweeps/${sweep.id}/mask`}
            download={`${sweep.name} mask.png`}
          >
            <Minor as="span" tip="The mask as a PNG file">
              Save mask
            </Minor>
          </a>
        </Flex>
      )}
    </Box>
  );
}

/** Where the sweep lies: between which others, and its mask shifted by typed pixels. */
function Placing({ sweep, desk, actions }: Props) {
  const [by, setBy] = useState({ across: 0, down: 0 });
  const busy = isBusy(sweep);
  return (
    <Box as="details" mt="5px">
      <Text as="summary" cursor="pointer" color="soft">
        Place
      </Text>
      <Flex gap="5px" mt="5px">
        <Minor
          disabled={sweep.number === 1}
          tip="Below the sweep before"
          onClick={() => actions.reorder(sweep, -1)}
        >
          Earlier
        </Minor>
        <Minor
          disabled={sweep.number === desk.sweeps.length}
          tip="On top of the sweep after"
          onClick={() => actions.reorder(sweep, 1)}
        >
          Later
        </Minor>
      </Flex>
      <Flex gap="5px" mt="5px" align="center" wrap="wrap">
        <Amount
          label="Right"
          unit="px"
          value={by.across}
          least={-20000}
          most={20000}
          onChange={(across) => setBy({ ...by, across })}
        />
        <Amount
          label="Down"
          unit="px"
          value={by.down}
          least={-20000}
          most={20000}
          onChange={(down) => setBy({ ...by, down })}
        />
        <Minor
          disabled={busy || (!by.across && !by.down)}
          tip="Shift the mask; a filled sweep is filled again there"
          onClick={() => {
            actions.move(sweep, by.across, by.down);
            setBy({ across: 0, down: 0 });
          }}
        >
          Move
        </Minor>
      </Flex>
    </Box>
  );
}

/** Seconds that the best version takes for a million pixels (docs/scouts.md). */
const SECONDS = 0.6;

/** How much of a reflection is taken off, a look at it alone, and how long the best version takes. */
function Reflected({ sweep, desk, actions }: Props) {
  const { alone, set } = useDeskState();
  const area = Math.min(sweep.box.width, desk.frame.width) * Math.min(sweep.box.height, desk.frame.height);
  const seconds = Math.max(1, Math.round((area / 1e6) * SECONDS));
  if (!sweep.takes.length)
    return (
      <Text mt="5px" lineHeight="1.3" color="soft">
        Quick look: about a second. Fill, the best version: about {seconds} s.
      </Text>
    );
  return (
    <Flex mt="7px" gap="6px" align="center" justify="space-between">
      <Amount
        label="Amount"
        unit="%"
        value={sweep.amount}
        least={0}
        most={100}
        tip="How much of the reflection is taken off"
        onChange={(amount) => actions.change(sweep, { amount })}
      />
      <Minor
        pressed={alone}
        keys="L"
        tip="What was taken off, by itself"
        onClick={() => set({ alone: !alone })}
      >
        Alone
      </Minor>
    </Flex>
  );
}

/** Margin, feather, holes and crumbs; the mask follows while a number changes and is kept once it rests. */
function FitPanel({ sweep, desk, actions }: Props) {
  const [fit, setFit] = useState<Fit>(sweep.fit as Fit);
  const kept = useRef(sweep.fit as Fit);
  useEffect(() => {
    kept.current = sweep.fit as Fit;
    setFit(sweep.fit as Fit);
  }, [sweep.fit]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only another number starts the clock
  useEffect(() => {
    if (JSON.stringify(fit) === JSON.stringify(kept.current)) return;
    actions.masks.tryFit(sweep.id, desk.revision, fit).catch(() => undefined);
    const rest = setTimeout(() => actions.refit(sweep, fit), REST);
    return () => clearTimeout(rest);
  }, [fit]);
  const set = (change: Partial<Fit>) => setFit({ ...fit, ...change });
  return (
    <Box mt="6px" display="grid" gridTemplateColumns="minmax(0, 1fr)" gap="4px">
      <Slide
        label="Margin"
        value={fit.margin}
        least={-50}
        most={100}
        tip="How far the mask reaches past the thing, in picture pixels; below 0 it shrinks"
        onChange={(margin) => set({ margin })}
      />
      <Slide
        label="Feather"
        value={fit.feather}
        least={0}
        most={60}
        tip="How soft the mask's edge is, in picture pixels"
        onChange={(feather) => set({ feather })}
      />
      <Flex align="center" justify="space-between" gap="8px">
        <label
          style={{ display: "flex", gap: 5, alignItems: "center" }}
          title="Everything the mask goes round"
        >
          <input
            type="checkbox"
            checked={fit.holes}
            style={{ accentColor: "#1b1b1a" }}
            onChange={(event) => set({ holes: event.target.checked })}
          />
          Fill holes
        </label>
        <Amount
          label="Crumbs"
          unit="px"
          value={fit.crumbs}
          least={0}
          most={100_000}
          tip="Parts of fewer pixels are dropped"
          onChange={(crumbs) => set({ crumbs })}
        />
      </Flex>
    </Box>
  );
}

type SlideProps = {
  label: string;
  value: number;
  least: number;
  most: number;
  tip: string;
  onChange: (value: number) => void;
};

function Slide({ label, value, least, most, tip, onChange }: SlideProps) {
  return (
    <Flex align="center" gap="6px">
      <input
        type="range"
        aria-label={`${label}, slide`}
        min={least}
        max={most}
        step={1}
        value={value}
        onChange={(event) => onChange(Number(event.target.value))}
        style={{ flex: 1, width: 0, minWidth: 0, accentColor: "#1b1b1a" }}
      />
      <Amount label={label} unit="px" value={value} least={-500} most={500} tip={tip} onChange={onChange} />
    </Flex>
  );
}
