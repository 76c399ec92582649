import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useDebouncedCallback } from "use-debounce";
import { api, ask, type Desk, type Fit, type SecondThoughts, type Sweep } from "../../api/client";
import { Minor } from "../../theme/controls";
import * as words from "../../words/words";
import { maskPath } from "../canvas/shapes";
import type { Actions } from "../doing/actions";
import { useDeskState } from "../state/state";

type Props = { sweep: Sweep; desk: Desk; actions: Actions };
type Proposal = SecondThoughts["proposals"][number];
type Remark = SecondThoughts["advice"][number];
const NAMES: Record<Proposal["kind"], string> = {
  shadow: words.sheets.shadow,
  mirror: words.sheets.mirror,
  rest: words.sheets.rest,
};
/** How long a mark rests before it is thought about, ms. */
const REST = 700;
const NOBODY: SecondThoughts["strays"] = [];

/** Second thoughts on a mark: advice that applies, and what seems to belong to it too, to take or leave. */
export function Advice({ sweep, desk, actions }: Props) {
  const thoughts = useThoughts(sweep, desk);
  const [left, setLeft] = useState<string[]>([]);
  const open = (thoughts?.proposals ?? []).filter((each) => !left.includes(each.area.file));
  useProposed(open, actions);
  useStrays(thoughts?.strays ?? NOBODY);
  if (!thoughts) return null;
  const [first, ...others] = thoughts.advice;
  const said = (each: Remark) => <Said key={each.kind} remark={each} sweep={sweep} actions={actions} />;
  return (
    <Box mt="7px" display="grid" gap="6px" role="status" aria-label={words.sheets.secondThoughts}>
      {open.map((each) => (
        <Flex key={each.area.file} align="center" gap="5px">
          <Text flex="1" fontWeight={700}>
            {NAMES[each.kind]}?
          </Text>
          <Minor keys={words.sheets.keyTakesAll} onClick={() => actions.accept(sweep.id, [each.area])}>
            {words.sheets.take}
          </Minor>
          <Minor onClick={() => setLeft([...left, each.area.file])}>{words.sheets.leave}</Minor>
        </Flex>
      ))}
      {thoughts.strays.map((each) => (
        <Flex key={each.find} align="center" gap="5px">
          <Text flex="1" lineHeight="1.3">
            {words.sheets.strays(each.name, each.pixels)}
          </Text>
          <Minor
            tip={words.sheets.protectTip}
            keys={words.sheets.keyKeepsOff}
            onClick={() => actions.protect(each.find)}
          >
            {words.sheets.protect}
          </Minor>
        </Flex>
      ))}
      {first && said(first)}
      {others.length > 0 && (
        <Box as="details">
          <Text as="summary" cursor="pointer" color="soft">
            {words.sheets.moreRemarks(others.length)}
          </Text>
          <Box display="grid" gap="6px" mt="5px">
            {others.map(said)}
          </Box>
        </Box>
      )}
    </Box>
  );
}

/** What there is to say of a mark, once it rests. */
function useThoughts(sweep: Sweep, desk: Desk): SecondThoughts | undefined {
  const [rested, setRested] = useState("");
  const rest = useDebouncedCallback(setRested, REST);
  useEffect(() => rest(sweep.mask), [rest, sweep.mask]);
  const thoughts = useQuery({
    queryKey: ["advice", desk.frame.id, sweep.id, rested],
    enabled: rested === sweep.mask && sweep.shapes > 0,
    queryFn: async () =>
      // The client's mapped types turn pairs into lists; the schema says pairs.
      (await ask(
        api.GET("/api/frames/{frame_id}/sweeps/{sweep_id}/advice", {
          params: {
            path: { frame_id: desk.frame.id, sweep_id: sweep.id },
            query: { revision: desk.revision },
          },
        }),
      )) as SecondThoughts,
  });
  return rested === sweep.mask ? thoughts.data : undefined;
}

/** What is proposed is drawn on the picture, and what a key would take. */
function useProposed(open: Proposal[], { masks }: Actions) {
  const shown = open.map((each) => each.area.file).join(" ");
  // biome-ignore lint/correctness/useExhaustiveDependencies: ghosts change when other proposals are open
  useEffect(() => {
    masks.ghosts = open.map((each) => maskPath(each.rings));
    useDeskState.getState().set({ proposed: open.map((each) => each.area) });
    masks.onChange();
    return () => {
      masks.ghosts = [];
      useDeskState.getState().set({ proposed: [] });
      masks.onChange();
    };
  }, [masks, shown]);
}

/** Whom a key would protect. */
function useStrays(strays: SecondThoughts["strays"]) {
  useEffect(() => {
    useDeskState.getState().set({ strays: strays.map((each) => each.find) });
    return () => useDeskState.getState().set({ strays: [] });
  }, [strays]);
}

/** A remark on a mark, with the margin that it asks for. */
function Said({ remark, sweep, actions }: { remark: Remark; sweep: Sweep; actions: Actions }) {
  const { margin } = remark;
  return (
    <Text lineHeight="1.3" color="soft" pl="8px" borderLeft="3px solid" borderColor="marigold">
      {remark.text}{" "}
      {margin != null && (
        <button type="button" onClick={() => actions.refit(sweep, { ...(sweep.fit as Fit), margin })}>
          <Text as="span" textDecoration="underline" color="ink">
            {words.sheets.grow}
          </Text>
        </button>
      )}
    </Text>
  );
}
