import { Flex, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import type { Desk } from "../../api/client";
import { Act, Key, Lead } from "../../theme/controls";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";
import { Do } from "../doing/commands/Do";
import { inCredits, inTime } from "../reading/ledger";
import type { Offer } from "../state/chosen";

/** Under the picture, instead of the marking bar: what a fill costs, before it is spent. */
export function OfferBar({ desk, offer, actions }: { desk: Desk; offer: Offer; actions: Actions }) {
  const sweep = desk.sweeps.find((each) => each.id === offer.sweep);
  const { quote } = offer;
  if (!sweep) return null;
  return (
    <Flex
      role="region"
      aria-label={words.bars.cost}
      align="center"
      gap="8px"
      minH="42px"
      px="14px"
      py="5px"
      flexShrink={0}
      borderTop="1px solid"
      borderColor="line"
      bg="raised"
    >
      <Text flex="1" lineHeight="1.25" aria-live="polite">
        {quote.problem ? (
          <b>{quote.problem}</b>
        ) : (
          <>
            <b>
              {words.bars.price(
                sweep.name,
                quote.model,
                inCredits(quote.credits),
                quote.seconds === null ? null : inTime(quote.seconds),
              )}
            </b>{" "}
            {quote.left !== null && words.bars.leftThere(+quote.left.toFixed(2))}
            {quote.budget_left !== null && words.bars.leftInBudget(+quote.budget_left.toFixed(2))}
            {quote.why}
          </>
        )}
      </Text>
      {(quote.remedy === "key" || quote.remedy === "credits") && (
        <Link to="/models">
          <Text as="span" textDecoration="underline">
            {words.app.toTheModels}
          </Text>
        </Link>
      )}
      {!quote.problem && (
        <Do id="agree" as={Lead}>
          {words.bars.yes(inCredits(quote.credits))} <Key>{words.keys.enter}</Key>
        </Do>
      )}
      <Act tip={words.bars.insteadTip} onClick={() => actions.fillHere(sweep, offer.how)}>
        {sweep.method === "model" ? words.bars.weaveInstead : words.bars.withoutIt}
      </Act>
      <Do id="decline" />
    </Flex>
  );
}
