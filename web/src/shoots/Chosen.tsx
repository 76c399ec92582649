import { Flex, Spacer, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, ask, type Frame, type Shoot, type Standing } from "../api/client";
import { deliverAgain } from "../deliver/doing";
import { Act, Lead } from "../theme/controls";

import * as words from "../words/words";

type Props = {
  shoot: Shoot;
  standings: Map<number, Standing>;
  chosen: number[];
  choose: (frames: number[]) => void;
};

/** What can be done with the frames that are chosen, all at once. */
export function Chosen(props: Props) {
  const { shoot, chosen, choose } = props;
  const [said, setSaid] = useState<Said | null>(null);
  return (
    <Flex
      role="toolbar"
      aria-label={words.shoots.chosenFrames}
      position="sticky"
      bottom="0"
      zIndex="1"
      align="center"
      gap="8px"
      mt="12px"
      px="10px"
      h="42px"
      bg="raised"
      border="1px solid"
      borderColor="ink"
      borderRadius="3px"
    >
      <Text fontWeight={700}>{words.shoots.chosen(chosen.length)}</Text>
      <Doings {...props} say={setSaid} />
      {said && (
        <Text role={said.bad ? "alert" : "status"} color={said.bad ? "alarm" : "soft"} truncate>
          {said.text}
        </Text>
      )}
      <Spacer />
      <Act onClick={() => choose(shoot.frames.map((frame) => frame.id))}>{words.shoots.all}</Act>
      <Act onClick={() => choose([])}>{words.shoots.none}</Act>
    </Flex>
  );
}

type Said = { text: string; bad?: boolean };

function Doings({ shoot, standings, chosen, say }: Props & { say: (said: Said | null) => void }) {
  const [busy, setBusy] = useState(false);
  const open = useNavigate();
  const frames = shoot.frames.filter((frame) => chosen.includes(frame.id));
  const marked = frames.reduce((total, frame) => total + (standings.get(frame.id)?.marked ?? 0), 0);
  const source = frames.find((frame) => (standings.get(frame.id)?.sweeps ?? 0) > 0);
  const ids = chosen.join(",");
  const work = async (what: () => Promise<string>) => {
    setBusy(true);
    say(null);
    await what()
      .then((text) => say({ text }))
      .catch((error: Error) => say({ text: error.message, bad: true }));
    setBusy(false);
  };
  const again = () =>
    deliverAgain(shoot.id, chosen, (done, of) => say({ text: words.shoots.delivering(done + 1, of) }));
  return (
    <>
      <Lead
        disabled={busy || !marked}
        onClick={() => work(() => fill(shoot, chosen))}
        tip={words.shoots.fillTip}
      >
        {words.shoots.fill(marked || "")}
      </Lead>
      <Act
        disabled={busy || !source || chosen.length < 2}
        onClick={() => source && work(() => carry(source, chosen))}
        tip={words.shoots.carryOverTip}
      >
        {source ? words.shoots.carryOverFrom(source.name.replace(/\.[^.]+$/, "")) : words.shoots.carryOver}
      </Act>
      <Act disabled={busy} onClick={() => open(`/deliver?frames=${ids}`)} tip={words.shoots.deliverTip}>
        {words.shoots.deliver}
      </Act>
      <Act disabled={busy} onClick={() => work(again)} tip={words.shoots.againAsLastTimeTip}>
        {words.shoots.againAsLastTime}
      </Act>
      <Act onClick={() => open(`/ledger?frames=${ids}`)} tip={words.shoots.ledgerTip}>
        {words.shoots.ledger}
      </Act>
      <Act disabled={busy} onClick={() => work(() => remove(chosen))} tip={words.shoots.removeTip}>
        {words.shoots.remove}
      </Act>
    </>
  );
}

/** Fill what is marked in frames; rejects with what was refused. */
async function fill(shoot: Shoot, frames: number[]): Promise<string> {
  const where = { params: { path: { shoot_id: shoot.id } }, body: { frames } };
  const { asked, refused } = await ask(api.POST("/api/shoots/{shoot_id}/fill", where));
  if (refused.length) throw new Error(refused.join(" "));
  return words.shoots.fillsWait(asked);
}

/** Carry all sweeps of a frame over to others. */
async function carry(source: Frame, chosen: number[]): Promise<string> {
  const to = chosen.filter((each) => each !== source.id);
  const body = { sweeps: [], frames: to, sensor: null, wide: false, fill: false };
  await ask(api.POST("/api/frames/{frame_id}/carry", { params: { path: { frame_id: source.id } }, body }));
  return words.shoots.carrying(source.name, to.length);
}

async function remove(frames: number[]): Promise<string> {
  for (const frame_id of frames) {
    await ask(api.DELETE("/api/frames/{frame_id}", { params: { path: { frame_id } } }));
  }
  return "";
}
