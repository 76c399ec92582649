import { Box, Flex, Spacer, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import type { Desk, Find, Scouts } from "../../api/client";
import { useScouts } from "../../api/queries";
import { Amount, Lead, Minor, Tick } from "../../theme/controls";
import * as words from "../../words/words";
import { maskPath } from "../canvas/shapes";
import type { PictureViewer } from "../canvas/viewer";
import type { Actions } from "../doing/actions";
import { Do } from "../doing/commands/Do";
import { chosenFinds, isDust, KINDS, type Kind, progressOf } from "../reading/finds";
import { useStateOf } from "../state/state";
import { FindLine } from "./FindLine";

type Props = { desk: Desk; actions: Actions; viewer: PictureViewer | null };

/** What the scouts found, to be kept, corrected or dropped; nothing is filled before. */
export function FindsSheet({ desk, actions, viewer }: Props) {
  const scouts = useScouts(desk.frame.id);
  const { find, everywhere, set } = useStateOf("find", "everywhere", "set");
  const { masks } = actions;
  const { data } = scouts;
  useEffect(() => {
    masks.finds = (data?.finds ?? []).map((each) => ({
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
  }, [masks, data]);
  if (!data) return null;
  const going = chosenFinds(data);
  const dust = going.some(isDust);
  return (
    <Flex
      direction="column"
      minH="calc(100% - 34px)"
      css={{ "& input": { accentColor: "var(--chakra-colors-ink)" } }}
    >
      {KINDS.map(([kind, title]) => (
        <Group
          key={kind}
          kind={kind}
          title={title}
          scouts={data}
          actions={actions}
          chosen={find}
          viewer={viewer}
        />
      ))}
      <ReflectionSought desk={desk} actions={actions} />
      <Spacer />
      <Box
        px="12px"
        py="8px"
        display="grid"
        gap="7px"
        position="sticky"
        bottom="0"
        bg="panel"
        borderTop="1px solid"
        borderColor="line"
      >
        {dust && (
          <label style={{ display: "flex", gap: 5, fontSize: 13 }}>
            <input
              type="checkbox"
              checked={everywhere}
              onChange={(event) => set({ everywhere: event.target.checked })}
            />
            {words.sheets.dustInAll}
          </label>
        )}
        <Flex gap="6px">
          <Do id="keep" as={Lead}>
            {words.sheets.keep(going.length || "")}
          </Do>
          <Do id="keepAndFill" as={Minor} h="28px" />
        </Flex>
      </Box>
    </Flex>
  );
}

/** Soft light such as glass adds is taken off only when asked: where there is no glass that does harm. */
function ReflectionSought({ desk, actions }: { desk: Desk; actions: Actions }) {
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

type GroupProps = {
  kind: Kind;
  title: string;
  scouts: Scouts;
  actions: Actions;
  chosen: number | null;
  viewer: PictureViewer | null;
};

/** One scout: how far it is, what can be asked of it, its finds. */
function Group({ kind, title, scouts, actions, chosen, viewer }: GroupProps) {
  const { set, pointing, harsh } = useStateOf("set", "pointing", "harsh");
  const scout = scouts.scouts.find((each) => each.kind === kind);
  const finds = scouts.finds.filter((each) => each.kind === kind);
  const all = finds.length > 0 && finds.every((each) => each.goes);
  const busy = scout?.state === "waiting" || scout?.state === "running";
  const choose = (each: Find) => {
    set({ find: each.id === chosen ? null : each.id });
    if (each.id !== chosen) viewer?.reveal(each.box);
  };
  return (
    <Box as="section" aria-label={title} borderBottom="1px solid" borderColor="line" px="10px" py="7px">
      <Flex align="center" gap="6px">
        {finds.length > 0 && (
          <Tick
            aria-label={words.sheets.allOf(title.toLowerCase())}
            checked={all}
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
      <Flex gap="5px" mt="5px" wrap="wrap">
        {kind === "people" && (
          <>
            <Minor
              disabled={busy}
              tip={words.sheets.smallPeopleTip}
              onClick={() => actions.look("people", true)}
            >
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
        )}
        {kind === "things" && (
          <Minor
            disabled={busy}
            tip={words.sheets.smallThingsTip}
            onClick={() => actions.look("things", true)}
          >
            {words.sheets.smallThings}
          </Minor>
        )}
        {kind === "specks" && <Do id="harsh" as={Minor} />}
        {scout && scout.state !== "waiting" && scout.state !== "running" && kind !== "people" && (
          <Minor tip={words.sheets.lookAgainTip} onClick={() => actions.look(kind, false)}>
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
      <Box as="ul" listStyleType="none">
        {finds.map((each) => (
          <FindLine
            key={each.id}
            find={each}
            actions={actions}
            chosen={each.id === chosen}
            choose={() => choose(each)}
          />
        ))}
      </Box>
    </Box>
  );
}
