import { Flex, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import type { Desk } from "../../api/client";
import { Act, Key, Lead } from "../../theme/controls";
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
      aria-label="Cost"
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
              {sweep.name} by {quote.model}: {inCredits(quote.credits)}
              {quote.seconds !== null && `, ${inTime(quote.seconds)}`}.
            </b>{" "}
            {quote.left !== null && `${+quote.left.toFixed(2)} left there. `}
            {quote.budget_left !== null && `${+quote.budget_left.toFixed(2)} left in this shoot's budget. `}
            {quote.why}
          </>
        )}
      </Text>
      {(quote.remedy === "key" || quote.remedy === "credits") && (
        <Link to="/models">
          <Text as="span" textDecoration="underline">
            To the models
          </Text>
        </Link>
      )}
      {!quote.problem && (
        <Do id="agree" as={Lead}>
          Yes, {inCredits(quote.credits)} <Key>Enter</Key>
        </Do>
      )}
      <Act tip="From the picture itself, without cost" onClick={() => actions.fillHere(sweep, offer.how)}>
        {sweep.method === "model" ? "Weave instead" : "Without it"}
      </Act>
      <Do id="decline" />
    </Flex>
  );
}
