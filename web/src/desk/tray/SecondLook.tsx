import { Box, Flex, Text } from "@chakra-ui/react";
import type { Desk, Snag, Sweep } from "../../api/client";
import { Minor } from "../../theme/controls";
import type { PictureViewer } from "../canvas/viewer";
import type { Actions } from "../doing/actions";
import { Do } from "../doing/commands/Do";
import { standing } from "../reading/look";
import { fades, MENDS, openSnags } from "../reading/snags";
import { isBusy } from "../reading/sweeps";
import { useStateOf } from "../state/state";

type Props = { desk: Desk; sweep: Sweep; actions: Actions; viewer: PictureViewer | null };

/** What the program finds wrong with the take that stands, each with a way to mend it. */
export function SecondLook({ desk, sweep, actions, viewer }: Props) {
  const { viewed, snag: chosen, delivery, set } = useStateOf("viewed", "snag", "delivery", "set");
  const stands = standing(sweep, viewed);
  const take = sweep.takes.find((each) => each.id === stands);
  const snags = openSnags(sweep, stands);
  const visit = (snag: Snag) => {
    set({ snag: snag.id });
    viewer?.visit(snag.box);
  };
  return (
    <Box
      as="section"
      aria-label="Second look"
      w="236px"
      flexShrink={0}
      borderLeft="1px solid"
      borderColor="line"
      pl="10px"
      overflowY="auto"
    >
      <Flex justify="space-between" align="center" mb="2px">
        <Text fontWeight={700}>Second look</Text>
        {snags.length > 0 ? (
          <Do id="nextSnag" as={Minor}>
            Next of {snags.length}
          </Do>
        ) : (
          take && (
            <Minor
              disabled={isBusy(sweep)}
              tip="Look at all takes of this sweep anew"
              onClick={() => actions.review(sweep)}
            >
              Look again
            </Minor>
          )
        )}
      </Flex>
      {snags.map((snag) => (
        <Box
          key={snag.id}
          borderLeft="3px solid"
          borderColor={snag.id === chosen ? "marigold" : "transparent"}
          pl="5px"
          data-testid="snag"
        >
          <button
            type="button"
            onClick={() => visit(snag)}
            title={snag.why}
            style={{ width: "100%", textAlign: "left" }}
          >
            <Flex justify="space-between" gap="6px" fontSize="13px">
              <Text fontWeight={700}>{snag.kind}</Text>
              <Text color="soft" truncate>
                {fades(snag, desk.frame, delivery) ? "not seen at delivery size" : strength(snag)}
              </Text>
            </Flex>
          </button>
          {snag.id === chosen && (
            <>
              <Text fontSize="13px" color="soft" lineHeight="1.2">
                {snag.why}
              </Text>
              <Flex gap="5px" my="3px">
                <Do id="mend" as={Minor} tip={MENDS[snag.mend].tip}>
                  {MENDS[snag.mend].label}
                </Do>
                <Do id="dismiss" as={Minor} />
              </Flex>
            </>
          )}
        </Box>
      ))}
      {snags.length === 0 && (
        <Text fontSize="13px" color="soft">
          {!take ? "The picture as shot." : take.reviewed ? "No snags found." : "Not looked at yet."}
        </Text>
      )}
      {take && (
        <Text
          fontSize="13px"
          color="soft"
          mt="3px"
          title={take.parts.map((part) => `${part.method}: ${part.why}`).join("\n")}
        >
          Made by {made(sweep, stands)}
        </Text>
      )}
    </Box>
  );
}

/** How a take was made, in a line; its parts are told in the tooltip. */
function made(sweep: Sweep, id: number): string {
  const take = sweep.takes.find((each) => each.id === id);
  if (!take) return "";
  const methods = [...new Set(take.parts.map((part) => part.method))];
  const first = take.parts[0];
  return methods.length === 1 && first ? `${first.method}: ${first.why}` : methods.join(" + ");
}

const strength = (snag: Snag) =>
  snag.strength > 0.66 ? "plain" : snag.strength > 0.33 ? "visible" : "faint";
