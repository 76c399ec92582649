import { Box, Flex, Text } from "@chakra-ui/react";
import { useEffect } from "react";
import type { Desk, Scouts } from "../../api/client";
import { useScouts } from "../../api/queries";
import { Check, Lead, Minor } from "../../theme/controls";
import * as words from "../../words/words";
import { maskPath } from "../canvas/shapes";
import type { PictureViewer } from "../canvas/viewer";
import type { Actions } from "../doing/actions";
import { Do } from "../doing/commands/Do";
import { chosenFinds, isDust, KINDS, stillLooking } from "../reading/finds";
import { useStateOf } from "../state/state";
import { FindsOfKind } from "./FindsOfKind";
import { ReflectionSought } from "./ReflectionSought";

type Props = { desk: Desk; actions: Actions; viewer: PictureViewer | null };

/** What the scouts found, to be kept, corrected or dropped; nothing is filled before. */
export function FindsSheet({ desk, actions, viewer }: Props) {
  const { data } = useScouts(desk.frame.id);
  useOnPicture(data, actions);
  if (!data) return null;
  return (
    <Flex direction="column" h="100%" css={{ "& input": { accentColor: "var(--chakra-colors-ink)" } }}>
      <Box flex="1" minH="0" overflowY="auto">
        {KINDS.map(([kind, title]) => (
          <FindsOfKind key={kind} kind={kind} title={title} scouts={data} actions={actions} viewer={viewer} />
        ))}
        <ReflectionSought desk={desk} actions={actions} />
      </Box>
      <Keeping scouts={data} />
    </Flex>
  );
}

/** Finds are drawn on the picture while their sheet is open. */
function useOnPicture(scouts: Scouts | undefined, { masks }: Actions) {
  useEffect(() => {
    masks.finds = (scouts?.finds ?? []).map((each) => ({
      id: each.id,
      label: each.name,
      goes: each.goes,
      box: each.box,
      path: maskPath(each.rings),
      also: each.with_also.map((kind) => maskPath(each.also[kind] ?? [])),
    }));
    masks.onChange();
    return () => {
      masks.finds = [];
      masks.onChange();
    };
  }, [masks, scouts]);
}

/** What is done with all that goes. */
function Keeping({ scouts }: { scouts: Scouts }) {
  const { everywhere, set } = useStateOf("everywhere", "set");
  const going = chosenFinds(scouts);
  const looking = stillLooking(scouts);
  return (
    <Box px="12px" py="8px" display="grid" gap="7px" flexShrink={0} borderTop="1px solid" borderColor="line">
      {going.some(isDust) && (
        <Check
          label={words.sheets.dustInAll}
          checked={everywhere}
          onChange={(on) => set({ everywhere: on })}
        />
      )}
      {looking.length > 0 && (
        <Text fontSize="13px" lineHeight="1.25" role="status">
          {words.sheets.stillLooking(looking.join(", "))}
        </Text>
      )}
      <Flex gap="6px" wrap="wrap">
        <Do id="keep" as={Lead}>
          {words.sheets.keep(going.length || "")}
        </Do>
        <Do id="keepAndFill" as={Minor} h="28px" />
        <Do id="lookAgain" as={Minor} h="28px" />
      </Flex>
    </Box>
  );
}
