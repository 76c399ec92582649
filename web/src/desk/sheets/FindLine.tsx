import { Box, Flex, Text } from "@chakra-ui/react";
import type { Find } from "../../api/client";
import { Minor, Tick } from "../../theme/controls";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";
import { Do } from "../doing/commands/Do";
import { isDust } from "../reading/finds";

type Props = { find: Find; actions: Actions; chosen: boolean; choose: () => void };
const ALSO: Record<Find["with_also"][number], string> = {
  shadow: words.sheets.shadow,
  mirror: words.sheets.mirror,
};

/** One find: whether it goes, what it is and why; once it is chosen, what can be done with it. */
export function FindLine({ find, actions, chosen, choose }: Props) {
  return (
    <Box
      as="li"
      mt="4px"
      pl="5px"
      borderLeft="4px solid"
      borderColor={chosen ? "marigold" : "transparent"}
      bg={chosen ? "raised" : "transparent"}
      aria-current={chosen}
      data-testid={`find-${find.name}`}
    >
      <Flex gap="8px" align="start" minH="26px">
        <Tick
          aria-label={words.sheets.goes(find.name)}
          checked={find.goes}
          onChange={(goes) => void actions.changeFind(find.id, { goes })}
        />
        <button
          type="button"
          onClick={choose}
          style={{ textAlign: "left", flex: 1, minWidth: 0, minHeight: 24 }}
        >
          <Text as="span">{find.name}</Text>
          <Text as="span" color="soft">
            {find.subject && ` ${words.sheets.isSubject}`}
            {isDust(find) && ` ${words.sheets.dustIn(find.frames)}`}
          </Text>
          {chosen && (
            <Text fontSize="13px" lineHeight="1.25" color="soft">
              {words.sheets.paintToAdd(find.reason)}
            </Text>
          )}
        </button>
      </Flex>
      {chosen && <Doings find={find} actions={actions} />}
    </Box>
  );
}

/** What can be done with a find: what it throws goes with it, its kind goes always, it is none. */
function Doings({ find, actions }: { find: Find; actions: Actions }) {
  const kinds = Object.keys(find.also) as Find["with_also"];
  const toggle = (kind: Find["with_also"][number]) => {
    const on = find.with_also.includes(kind);
    const also = on ? find.with_also.filter((each) => each !== kind) : [...find.with_also, kind];
    return actions.changeFind(find.id, { also });
  };
  return (
    <Flex gap="5px" py="5px" pl="19px" wrap="wrap">
      {kinds.map((kind) => (
        <Minor key={kind} pressed={find.with_also.includes(kind)} onClick={() => toggle(kind)}>
          {ALSO[kind]}
        </Minor>
      ))}
      {find.what && (
        <Minor
          pressed={find.always}
          tip={words.sheets.alwaysTip(find.what)}
          onClick={() => void actions.changeFind(find.id, { always: !find.always })}
        >
          {words.sheets.always(find.what)}
        </Minor>
      )}
      <Minor tip={words.sheets.protectTip} onClick={() => void actions.protect(find.id)}>
        {words.sheets.protect}
      </Minor>
      <Do id="drop" as={Minor} />
    </Flex>
  );
}
