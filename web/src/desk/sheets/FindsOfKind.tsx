import { Box, Flex, Text } from "@chakra-ui/react";
import type { Find, Scouts } from "../../api/client";
import { Amount, Minor, Tick } from "../../theme/controls";
import * as words from "../../words/words";
import type { PictureViewer } from "../canvas/viewer";
import type { Actions } from "../doing/actions";
import { Do } from "../doing/commands/Do";
import { type Kind, progressOf } from "../reading/finds";
import { useStateOf } from "../state/state";
import { FindLine } from "./FindLine";
import { RemoveThese } from "./RemoveThese";

type Props = {
  kind: Kind;
  title: string;
  scouts: Scouts;
  actions: Actions;
  viewer: PictureViewer | null;
};

/** One scout: how far it is, what can be asked of it, its finds. */
export function FindsOfKind({ kind, title, scouts, actions, viewer }: Props) {
  const { find, set } = useStateOf("find", "set");
  const scout = scouts.scouts.find((each) => each.kind === kind);
  const finds = scouts.finds.filter((each) => each.kind === kind);
  const choose = (each: Find) => {
    set({ find: each.id === find ? null : each.id });
    if (each.id !== find) viewer?.camera.reveal(each.box);
  };
  return (
    <Box as="section" aria-label={title} borderBottom="1px solid" borderColor="line" px="10px" py="7px">
      <Flex align="center" gap="6px">
        {finds.length > 0 && (
          <Tick
            aria-label={words.sheets.allOf(title.toLowerCase())}
            checked={finds.every((each) => each.goes)}
            onChange={(goes) => finds.forEach((each) => void actions.changeFind(each.id, { goes }))}
          />
        )}
        <Text fontWeight={700} flex="1">
          {title}
        </Text>
        <Text fontSize="13px" color="soft" role="status">
          {progressOf(scouts, kind)}
        </Text>
      </Flex>
      {scout?.state === "failed" && (
        <Text fontSize="13px" lineHeight="1.3" color="alarm" role="alert" mt="3px">
          {scout.error}
        </Text>
      )}
      {scout?.state === "done" && !finds.length && (
        <Text fontSize="13px" lineHeight="1.3" color="soft" mt="3px">
          {words.sheets.lookedFor(scout.looked_for)}
        </Text>
      )}
      <RemoveThese kind={kind} scouts={scouts} actions={actions} />
      <Asked kind={kind} state={scout?.state} look={actions.look} />
      <Box as="ul" listStyleType="none">
        {finds.map((each) => (
          <FindLine
            key={each.id}
            find={each}
            actions={actions}
            chosen={each.id === find}
            choose={() => choose(each)}
          />
        ))}
      </Box>
    </Box>
  );
}

type Scout = Scouts["scouts"][number];
type AskedProps = { kind: Kind; state?: Scout["state"]; look: Actions["look"] };

/** What can be asked of a scout. */
function Asked({ kind, state, look }: AskedProps) {
  const { harsh, set } = useStateOf("harsh", "set");
  const busy = state === "waiting" || state === "running";
  return (
    <Flex gap="5px" mt="5px" wrap="wrap">
      {kind === "people" && <OfPeople busy={busy} look={look} />}
      {kind === "things" && (
        <Minor disabled={busy} tip={words.sheets.smallThingsTip} onClick={() => look("things", true)}>
          {words.sheets.smallThings}
        </Minor>
      )}
      {kind === "specks" && <Do id="harsh" as={Minor} />}
      {state && !busy && kind !== "people" && (
        <Minor tip={words.sheets.lookAgainTip} onClick={() => look(kind, false)}>
          {words.sheets.lookAgain}
        </Minor>
      )}
      {kind === "specks" && harsh !== null && (
        <Amount
          label={words.sheets.from}
          unit="%"
          value={harsh}
          least={1}
          most={50}
          tip={words.sheets.fromTip}
          onChange={(value) => set({ harsh: value })}
        />
      )}
    </Flex>
  );
}

function OfPeople({ busy, look }: { busy: boolean; look: Actions["look"] }) {
  const { pointing, set } = useStateOf("pointing", "set");
  return (
    <>
      <Minor disabled={busy} tip={words.sheets.smallPeopleTip} onClick={() => look("people", true)}>
        {words.sheets.smallPeople}
      </Minor>
      <Minor
        pressed={pointing}
        tip={words.sheets.pointOutTip}
        onClick={() => set({ pointing: !pointing, tool: "box" })}
      >
        {words.sheets.pointOut}
      </Minor>
    </>
  );
}
