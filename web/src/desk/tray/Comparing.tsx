import { Box, Grid } from "@chakra-ui/react";
import type { Sweep } from "../../api/client";
import { Choice, Minor } from "../../theme/controls";
import * as words from "../../words/words";
import { Do } from "../doing/commands/Do";
import { useStateOf } from "../state/state";

/** Two takes held against each other. */
export function Comparing({ sweep, stands }: { sweep: Sweep; stands: number }) {
  const { against, set } = useStateOf("against", "set");
  const name = (take: number) => {
    const at = sweep.takes.findIndex((each) => each.id === take);
    return at < 0 ? words.tray.asShot : words.tray.takeLow(at + 1);
  };
  const others = [0, ...sweep.takes.map((take) => take.id)].filter((take) => take !== stands);
  const stood = others.includes(against) ? against : (others[0] ?? 0);
  return (
    <Grid
      templateColumns="1fr 1fr"
      gap="5px"
      w="172px"
      flexShrink={0}
      alignContent="start"
      role="group"
      aria-label={words.tray.compare}
    >
      <Box gridColumn="1 / 3">
        <Choice
          label={words.tray.compareWith}
          value={String(stood)}
          among={others.map(String)}
          said={(take) => name(Number(take))}
          wide="100%"
          disabled={!sweep.takes.length}
          onChange={(take) => set({ against: Number(take) })}
        />
      </Box>
      <Do id="mix" as={Minor} />
      <Do id="split" as={Minor} />
      <Do id="blink" as={Minor} />
      <Do id="difference" as={Minor} />
    </Grid>
  );
}
