import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, ask, type Desk, type Fit, type SecondThoughts, type Sweep } from "../api/client";
import { Minor } from "../theme/controls";
import type { Actions } from "./actions";
import { maskPath } from "./canvas/shapes";

type Props = { sweep: Sweep; desk: Desk; actions: Actions };
type Proposal = SecondThoughts["proposals"][number];
const NAMES: Record<Proposal["kind"], string> = {
  shadow: "Its shadow",
  mirror: "Its mirror image",
  rest: "More of it",
};
/** How long a mark rests before it is thought about, ms. */
const REST = 700;

/** Second thoughts on a mark: advice that applies, and what seems to belong to it too, to take or leave. */
export function Advice({ sweep, desk, actions }: Props) {
  const rested = useRested(sweep.mask);
  const [left, setLeft] = useState<string[]>([]);
  const thoughts = useQuery({
    queryKey: ["advice", desk.frame.id, sweep.id, rested],
    enabled: rested === sweep.mask && sweep.shapes.length > 0,
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
    masks.onChange();
    return () => {
      masks.ghosts = [];
      masks.onChange();
    };
  }, [masks, shown]);
  useEffect(() => {
    const take = (event: KeyboardEvent) => {
      const typing = (event.target as HTMLElement).matches?.(
        "input:not([type=range]):not([type=checkbox]), textarea, select",
      );
      if (event.key.toLowerCase() !== "y" || event.ctrlKey || event.metaKey || typing || !open.length) return;
      actions.accept(
        sweep,
        open.map((each) => each.area),
      );
    };
    window.addEventListener("keydown", take);
    return () => window.removeEventListener("keydown", take);
  }, [actions, sweep, open]);
  if (!thoughts.data || rested !== sweep.mask) return null;
  return (
    <Box mt="7px" display="grid" gap="6px" role="status" aria-label="Second thoughts on the mark">
      {open.map((each) => (
        <Flex key={each.area.file} align="center" gap="5px">
          <Text flex="1" fontWeight={700}>
            {NAMES[each.kind]}?
          </Text>
          <Minor keys="Y takes all" onClick={() => actions.accept(sweep, [each.area])}>
            Take
          </Minor>
          <Minor onClick={() => setLeft([...left, each.area.file])}>Leave</Minor>
        </Flex>
      ))}
      {thoughts.data.advice.map((each) => (
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
                Grow
              </Text>
            </button>
          )}
        </Text>
      ))}
    </Box>
  );
}

/** A value once it has not changed for a while. */
function useRested(value: string): string {
  const [rested, setRested] = useState("");
  useEffect(() => {
    const rest = setTimeout(() => setRested(value), REST);
    return () => clearTimeout(rest);
  }, [value]);
  return rested;
}
