import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, ask, type Desk, type Sweep } from "../../api/client";
import { useWords } from "../../api/queries";
import { Choice, Minor } from "../../theme/controls";
import { tipped } from "../../theme/tip";
import * as words from "../../words/words";
import type { Actions } from "../doing/actions";
import { isBusy } from "../reading/sweeps";
import { useStateOf } from "../state/state";
import { SisterPatch } from "./SisterPatch";

type Props = { sweep: Sweep; desk: Desk; actions: Actions };
const HERE = words.sheets.thisPicture;

/** What should be seen there and what must not, in words; or a patch to draw from. */
export function Hints({ sweep, desk, actions }: Props) {
  const used = useWords();
  const said = useQuery({
    queryKey: ["said", desk.frame.id, sweep.id, sweep.method, sweep.hint, sweep.avoid],
    enabled: Boolean(sweep.hint || sweep.avoid),
    queryFn: () =>
      ask(
        api.GET("/api/frames/{frame_id}/sweeps/{sweep_id}/words", {
          params: { path: { frame_id: desk.frame.id, sweep_id: sweep.id } },
        }),
      ),
  });
  const given = Boolean(sweep.hint || sweep.avoid || sweep.ground || sweep.method === "model");
  const [open, setOpen] = useState(given);
  useEffect(() => {
    if (given) setOpen(true);
  }, [given]);
  return (
    <details open={open} onToggle={(event) => setOpen(event.currentTarget.open)} style={{ marginTop: 5 }}>
      <Text as="summary" cursor="pointer" color="soft">
        {words.sheets.hints}
      </Text>
      <Box display="grid" gridTemplateColumns="minmax(0, 1fr)" gap="4px" mt="4px">
        <Words
          label={words.sheets.seenThere}
          hint
          value={sweep.hint}
          before={used.data?.hints ?? []}
          tip={words.sheets.seenThereTip}
          onChange={(hint) => actions.change(sweep, { hint })}
        />
        <Words
          label={words.sheets.notSeen}
          value={sweep.avoid}
          before={used.data?.avoids ?? []}
          tip={words.sheets.notSeenTip}
          onChange={(avoid) => actions.change(sweep, { avoid })}
        />
        {(sweep.hint || sweep.avoid) && said.data?.text && (
          <Text color="alarm" lineHeight="1.25" role="status" aria-label={words.sheets.saidOfTheWords}>
            {said.data.text}
          </Text>
        )}
        {sweep.method !== "model" && <DrawFrom sweep={sweep} desk={desk} actions={actions} />}
      </Box>
    </details>
  );
}

type WordsProps = {
  label: string;
  value: string;
  before: string[];
  tip: string;
  hint?: boolean;
  onChange: (words: string) => void;
};

/** A few words, with those used before to choose from. */
function Words({ label, value, before, tip, hint, onChange }: WordsProps) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const list = `used-${label.replace(" ", "-")}`;
  const keep = () => text.trim() !== value && onChange(text.trim());
  return (
    <Flex as="label" align="center" justify="space-between" gap="6px" {...tipped(tip)}>
      <Text whiteSpace="nowrap" w="66px">
        {label}
      </Text>
      <Input
        size="xs"
        h="26px"
        flex="1"
        minW="0"
        px="5px"
        fontSize="13px"
        bg="sheet"
        list={list}
        maxLength={300}
        placeholder={hint ? words.sheets.theBackground : ""}
        value={text}
        data-hint={hint ? "" : undefined}
        onChange={(event) => setText(event.target.value)}
        onBlur={keep}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      />
      <datalist id={list}>
        {before.map((words) => (
          <option key={words} value={words} />
        ))}
      </datalist>
    </Flex>
  );
}

/** A patch of this picture or of a sister frame instead of words. */
function DrawFrom({ sweep, desk, actions }: Props) {
  const { grounding, set } = useStateOf("grounding", "set");
  const [sister, setSister] = useState<number | null>(null);
  const { ground } = sweep;
  const others = desk.neighbours.filter((each) => each.id !== desk.frame.id);
  const owner = others.find((each) => each.id === ground?.frame)?.name ?? HERE;
  if (ground)
    return (
      <Flex align="center" justify="space-between" gap="6px">
        <Text lineHeight="1.2">{words.sheets.drawnFrom(ground.box.width, ground.box.height, owner)}</Text>
        <Minor disabled={isBusy(sweep)} onClick={() => actions.setGround(sweep.id, null)}>
          {words.sheets.anywhere}
        </Minor>
      </Flex>
    );
  return (
    <Flex align="center" justify="space-between" gap="6px">
      <Minor
        pressed={grounding}
        disabled={isBusy(sweep)}
        tip={words.sheets.drawFromTip}
        onClick={() => set({ grounding: !grounding, tool: "box" })}
      >
        {grounding ? words.sheets.pullUpBox : words.sheets.drawFrom}
      </Minor>
      {others.length > 0 && (
        <Choice
          label={words.sheets.pictureToDraw}
          value={HERE}
          among={[HERE, ...others.map((each) => String(each.id))]}
          said={(each) => others.find((other) => String(other.id) === each)?.name ?? HERE}
          wide="112px"
          disabled={isBusy(sweep)}
          onChange={(each) => setSister(each === HERE ? null : Number(each))}
        />
      )}
      {sister !== null && (
        <SisterPatch
          frame={sister}
          close={() => setSister(null)}
          take={(box) => {
            setSister(null);
            actions.setGround(sweep.id, { box, frame: sister });
          }}
        />
      )}
    </Flex>
  );
}
