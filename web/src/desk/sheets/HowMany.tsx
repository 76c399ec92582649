import { Flex } from "@chakra-ui/react";
import type { Sweep } from "../../api/client";
import { Amount, Check } from "../../theme/controls";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";
import { standing } from "../reading/look";
import { useStateOf } from "../state/state";

const MOST_TAKES = 12;
const MOST_SEED = 2 ** 31 - 1;

/** How many takes the next fill makes and from which seed on. */
export function HowMany({ sweep }: { sweep: Sweep }) {
  const { takes, seed, viewed, set } = useStateOf("takes", "seed", "viewed", "set");
  const shown = sweep.takes.find((each) => each.id === standing(sweep, viewed));
  return (
    <Flex mt="5px" gap="8px" align="center" justify="space-between" wrap="wrap">
      <Amount
        label={words.sheets.takes}
        value={takes}
        least={1}
        most={MOST_TAKES}
        tip={words.sheets.takesTip}
        onChange={(next) => set({ takes: next })}
      />
      {seed === null ? (
        <Check
          label={words.sheets.holdSeed}
          checked={false}
          onChange={() => set({ seed: shown?.seed ?? 0 })}
        />
      ) : (
        <Flex align="center" gap="6px">
          <Amount
            label={words.sheets.seed}
            value={seed}
            least={0}
            most={MOST_SEED}
            wide="58px"
            tip={words.sheets.seedTip}
            onChange={(next) => set({ seed: next })}
          />
          <Check label={words.sheets.hold} checked onChange={() => set({ seed: null })} />
        </Flex>
      )}
    </Flex>
  );
}

/** How much of the take that stands shows. */
export function Opacity({ sweep, actions }: { sweep: Sweep; actions: Actions }) {
  return (
    <Flex mt="7px" justify="flex-end">
      <Amount
        label={words.sheets.opacity}
        unit="%"
        value={sweep.amount}
        least={0}
        most={100}
        tip={words.sheets.opacityTip}
        onChange={(amount) => actions.change(sweep, { amount })}
      />
    </Flex>
  );
}
