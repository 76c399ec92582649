import { Flex, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import type { Sweep } from "../../api/client";
import { Minor } from "../../theme/controls";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";
import { isBusy } from "../reading/sweeps";

/** What else helps when a model says no. */
const HELPS: Partial<Record<string, string>> = {
  smaller: words.tray.smaller,
  later: words.tray.later,
};

/** Why the last fill failed, and what can be done instead; nothing that was ready is lost. */
export function FillTrouble({ sweep, actions }: { sweep: Sweep; actions: Actions }) {
  const remedy = sweep.run?.remedy;
  const elsewhere = sweep.method === "model" || remedy;
  return (
    <Flex direction="column" gap="4px" maxW="400px" minW="300px" flexShrink={0} role="alert" overflowY="auto">
      <Text color="alarm" fontWeight={700} fontSize="13px" lineHeight="1.25">
        {sweep.run?.error}
      </Text>
      {remedy && HELPS[remedy] && (
        <Text fontSize="13px" lineHeight="1.2">
          {HELPS[remedy]}
        </Text>
      )}
      {!isBusy(sweep) && (
        <Flex gap="5px" align="center">
          <Minor tip={words.tray.tryAgainTip} onClick={() => actions.fill(sweep)}>
            {words.app.tryAgain}
          </Minor>
          {elsewhere && (
            <Minor tip={words.tray.weaveInsteadTip} onClick={() => actions.fillHere(sweep)}>
              {words.tray.weaveInstead}
            </Minor>
          )}
          {(remedy === "key" || remedy === "credits") && (
            <Link to="/models">
              <Text as="span" fontSize="13px" textDecoration="underline">
                {words.app.toTheModels}
              </Text>
            </Link>
          )}
        </Flex>
      )}
    </Flex>
  );
}
