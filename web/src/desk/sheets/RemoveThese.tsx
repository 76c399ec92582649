import { Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Scouts } from "../../api/client";
import { Minor } from "../../theme/controls";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";
import { type Kind, removalOf } from "../reading/finds";

type Props = { kind: Kind; scouts: Scouts; actions: Actions };

/** Removes one kind of finds in one go, after one question about what belongs to them. */
export function RemoveThese({ kind, scouts, actions }: Props) {
  const [asking, setAsking] = useState(false);
  const { finds, poles, belongings } = removalOf(scouts, kind);
  if (!finds.length) return null;
  const remove = (all: boolean) => {
    setAsking(false);
    void actions.keep([...finds, ...(all ? poles : [])], { fill: true, belongings: all });
  };
  const open = poles.length + belongings > 0;
  if (asking && open)
    return (
      <Flex
        role="group"
        aria-label={words.sheets.removeThese(finds.length)}
        gap="5px"
        wrap="wrap"
        align="center"
        fontSize="13px"
        mt="5px"
      >
        <Text w="100%">{words.sheets.removeToo(belongings, poles.length)}</Text>
        <Minor onClick={() => remove(true)}>{words.sheets.withThem}</Minor>
        <Minor onClick={() => remove(false)}>{words.sheets.withoutThem}</Minor>
      </Flex>
    );
  return (
    <Minor mt="5px" tip={words.sheets.removeTip} onClick={() => (open ? setAsking(true) : remove(false))}>
      {words.sheets.removeThese(finds.length)}
    </Minor>
  );
}
