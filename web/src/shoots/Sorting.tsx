import { Box, Flex, Text } from "@chakra-ui/react";
import type { Standing } from "../api/client";
import { Choice } from "../theme/controls";
import * as words from "../words/words";
import { counts, type Filter, type Order, STATES } from "./among";

type Props = {
  standings: Map<number, Standing>;
  filter: Filter;
  setFilter: (filter: Filter) => void;
  order: Order;
  setOrder: (order: Order) => void;
};

/** Which frames of a shoot are shown and in which order, and how many there are of each state. */
export function Sorting({ standings, filter, setFilter, order, setOrder }: Props) {
  const many = counts(standings.values());
  const filters: Filter[] = ["all", ...STATES.filter((state) => many.has(state) || state === filter)];
  const told = STATES.filter((state) => many.has(state))
    .map((state) => words.shoots.inState(many.get(state) ?? 0, words.named.frameState[state]))
    .join(" · ");
  return (
    <Flex gap="12px" align="center" mb="10px" fontSize="13px">
      <Text color="soft">{words.shoots.show}</Text>
      <Choice
        label={words.shoots.show}
        value={filter}
        among={filters}
        said={(each) => (each === "all" ? words.shoots.anyState : words.named.frameState[each])}
        wide="120px"
        onChange={setFilter}
      />
      <Text color="soft">{told}</Text>
      <Box flex="1" />
      <Text color="soft">{words.shoots.sortedBy}</Text>
      <Choice
        label={words.shoots.sortedBy}
        value={order}
        among={["name", "state", "newest"]}
        said={(each) => words.shoots.orders[each]}
        wide="96px"
        onChange={setOrder}
      />
    </Flex>
  );
}
