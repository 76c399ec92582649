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
const NAMES: Record<Proposal["kind"], string> = {
  shadow: words.sheets.shadow,
  mirror: words.sheets.mirror,
  rest: words.sheets.rest,
};
/** How long a mark rests before it is thought about, ms. */
const REST = 700;

/** Second thoughts on a mark: advice that applies, and what seems to belong to it too, to take or leave. */
export function Advice({ sweep, desk, actions }: Props) {
  const [rested, setRested] = useState("");
  const rest = useDebouncedCallback(setRested, REST);
  useEffect(() => rest(sweep.mask), [rest, sweep.mask]);
  const [left, setLeft] = useState<string[]>([]);
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
  const open = (thoughts.data?.proposals ?? []).filter(
    (each) => rested === sweep.mask && !left.includes(each.area.file),
  );
  const { masks } = actions;
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
  if (!thoughts.data || rested !== sweep.mask) return null;
  const [first, ...others] = thoughts.data.advice;
  const said = (each: SecondThoughts["advice"][number]) => (
    <Text
      key={each.kind}
      lineHeight="1.3"
      color="soft"
      pl="8px"
      borderLeft="3px solid"
      borderColor="marigold"
    >
      {each.text}{" "}
      {each.margin != null && (
        <button
          type="button"
          onClick={() => actions.refit(sweep, { ...(sweep.fit as Fit), margin: each.margin ?? 0 })}
        >
          <Text as="span" textDecoration="underline" color="ink">
            {words.sheets.grow}
          </Text>
        </button>
      )}
    </Text>
  );
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
