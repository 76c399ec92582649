import { Box, Flex, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { useDebouncedCallback } from "use-debounce";
import type { Desk, Fit, Sweep } from "../../api/client";
import { Amount, Check } from "../../theme/controls";
import { Slide } from "../../theme/Slide";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";
import { useStateOf } from "../state/state";
import { MaskActions } from "./MaskActions";

type Props = { sweep: Sweep; desk: Desk; actions: Actions };
/** How long a number rests before it counts as chosen, ms. */
const REST = 500;

/** How far the mask reaches; folded: feather, holes, crumbs, and what is done with the mark as a whole. The mask follows
 * while a number changes and is kept once it rests. */
export function FitPanel({ sweep, desk, actions }: Props) {
  const [fit, setFit] = useState<Fit>(sweep.fit as Fit);
  useEffect(() => setFit(sweep.fit as Fit), [sweep.fit]);
  const keep = useDebouncedCallback((next: Fit) => actions.refit(sweep, next), REST);
  // What was set last is kept even if another sweep is chosen at once.
  useEffect(() => () => void keep.flush(), [keep]);
  const set = (change: Partial<Fit>) => {
    const next = { ...fit, ...change };
    setFit(next);
    actions.masks.tryFit(sweep.id, desk.revision, next).catch(() => undefined);
    keep(next);
  };
  return (
    <Box mt="6px" display="grid" gridTemplateColumns="minmax(0, 1fr)" gap="4px">
      <Slide
        label={words.sheets.margin}
        typed={[-500, 500]}
        value={fit.margin}
        least={-50}
        most={100}
        tip={words.sheets.marginTip}
        onChange={(margin) => set({ margin })}
      />
      <Folded>
        <EdgeAndParts fit={fit} set={set} />
        <MaskActions sweep={sweep} desk={desk} actions={actions} />
      </Folded>
    </Box>
  );
}

/** What is seldom asked for; whether it is open holds for all sweeps. */
function Folded({ children }: { children: React.ReactNode }) {
  const { shaping, set } = useStateOf("shaping", "set");
  return (
    <Box as="details" {...{ open: shaping }}>
      <Text
        as="summary"
        cursor="pointer"
        color="soft"
        onClick={(event) => {
          event.preventDefault();
          set({ shaping: !shaping });
        }}
      >
        {words.sheets.edgeAndParts}
      </Text>
      <Box mt="5px" display="grid" gridTemplateColumns="minmax(0, 1fr)" gap="4px">
        {children}
      </Box>
    </Box>
  );
}

function EdgeAndParts({ fit, set }: { fit: Fit; set: (change: Partial<Fit>) => void }) {
  return (
    <>
      <Slide
        label={words.sheets.feather}
        typed={[0, 200]}
        value={fit.feather}
        least={0}
        most={60}
        tip={words.sheets.featherTip}
        onChange={(feather) => set({ feather })}
      />
      <Flex align="center" justify="space-between" gap="8px">
        <Check
          label={words.sheets.fillHoles}
          checked={fit.holes}
          tip={words.sheets.fillHolesTip}
          onChange={(holes) => set({ holes })}
        />
        <Amount
          label={words.sheets.crumbs}
          unit={words.units.px}
          value={fit.crumbs}
          least={0}
          most={100_000}
          tip={words.sheets.crumbsTip}
          onChange={(crumbs) => set({ crumbs })}
        />
      </Flex>
    </>
  );
}
