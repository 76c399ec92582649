import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Desk } from "../../api/client";
import { Minor } from "../../theme/controls";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";
import { useStateOf } from "../state/state";

/** Soft light such as glass adds is taken off only when asked: where there is no glass that does harm. */
export function ReflectionSought({ desk, actions }: { desk: Desk; actions: Actions }) {
  const { selected } = useStateOf("selected");
  const [answer, setAnswer] = useState<string | null>(null);
  const [looking, setLooking] = useState(false);
  const marked = desk.sweeps.find((each) => each.id === selected && !each.takes.length);
  const seek = async (anyway: boolean) => {
    setLooking(true);
    const got = await actions.seekReflection(marked?.id ?? null, anyway);
    setLooking(false);
    setAnswer(got?.text ?? null);
  };
  return (
    <Box
      as="section"
      aria-label={words.sheets.reflection}
      borderBottom="1px solid"
      borderColor="line"
      px="10px"
      py="7px"
    >
      <Flex align="center" gap="6px">
        <Text fontWeight={700} flex="1">
          {words.sheets.reflection}
        </Text>
        <Text fontSize="13px" color="soft" role="status">
          {looking ? words.sheets.looking : answer ? words.sheets.nothingToTakeOff : words.sheets.notAsked}
        </Text>
      </Flex>
      {answer && (
        <Text fontSize="13px" lineHeight="1.3" color="soft" mt="3px">
          {answer}
        </Text>
      )}
      <Flex gap="5px" mt="5px" wrap="wrap">
        <Minor disabled={looking} tip={words.sheets.softLightTip} onClick={() => seek(false)}>
          {marked ? words.sheets.softLightInMark : words.sheets.softLightOverAll}
        </Minor>
        {answer && (
          <Minor disabled={looking} tip={words.sheets.takeOffAnywayTip} onClick={() => seek(true)}>
            {words.sheets.takeOffAnyway}
          </Minor>
        )}
      </Flex>
    </Box>
  );
}
