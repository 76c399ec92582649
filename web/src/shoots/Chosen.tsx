import { Flex, Spacer, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, ask, type Shoot, type Standing } from "../api/client";
import { deliverAgain } from "../deliver/doing";
import { Act, Lead } from "../theme/controls";
import { counted } from "../theme/counted";

type Props = {
  shoot: Shoot;
  standings: Map<number, Standing>;
  chosen: number[];
  choose: (frames: number[]) => void;
};

/** What can be done with the frames that are chosen, all at once. */
export function Chosen({ shoot, standings, chosen, choose }: Props) {
  const [said, setSaid] = useState<{ text: string; bad?: boolean } | null>(null);
  const [busy, setBusy] = useState(false);
  const open = useNavigate();
  const frames = shoot.frames.filter((frame) => chosen.includes(frame.id));
  const marked = frames.reduce((total, frame) => total + (standings.get(frame.id)?.marked ?? 0), 0);
  const source = frames.find((frame) => (standings.get(frame.id)?.sweeps ?? 0) > 0);
  const work = async (what: () => Promise<string>) => {
    setBusy(true);
    setSaid(null);
    await what()
      .then((text) => setSaid({ text }))
      .catch((error: Error) => setSaid({ text: error.message, bad: true }));
    setBusy(false);
  };
  const fill = () =>
    work(async () => {
      const where = { params: { path: { shoot_id: shoot.id } }, body: { frames: chosen } };
      const { asked, refused } = await ask(api.POST("/api/shoots/{shoot_id}/fill", where));
      if (refused.length) throw new Error(refused.join(" "));
      return `${counted(asked, "fill waits", "fills wait")} in the queue.`;
    });
  const carry = () =>
    work(async () => {
      if (!source) return "";
      const to = chosen.filter((each) => each !== source.id);
      const body = { sweeps: [], frames: to, sensor: null, wide: false, fill: false };
      await ask(
        api.POST("/api/frames/{frame_id}/carry", { params: { path: { frame_id: source.id } }, body }),
      );
      return `All sweeps of ${source.name} are being carried over to ${to.length} frames.`;
    });
  const remove = () =>
    work(async () => {
      for (const frame_id of chosen) {
        await ask(api.DELETE("/api/frames/{frame_id}", { params: { path: { frame_id } } }));
      }
      return "";
    });
  const ids = chosen.join(",");
  const again = () =>
    work(() =>
      deliverAgain(shoot.id, chosen, (done, of) => setSaid({ text: `Delivering ${done + 1} of ${of}` })),
    );
  return (
    <Flex
      role="toolbar"
      aria-label="Chosen frames"
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
      <Text fontWeight={700}>{chosen.length} chosen</Text>
      <Lead disabled={busy || !marked} onClick={fill} tip="Three takes of everything that is marked in them">
        Fill {marked || ""}
      </Lead>
      <Act
        disabled={busy || !source || chosen.length < 2}
        onClick={carry}
        tip="All sweeps of the first of them that has any onto the others: marked there, not filled"
      >
        {source ? `Carry over from ${source.name.replace(/\.[^.]+$/, "")}` : "Carry over"}
      </Act>
      <Act
        disabled={busy}
        onClick={() => open(`/deliver?frames=${ids}`)}
        tip="As files, into a folder or a ZIP"
      >
        Deliver…
      </Act>
      <Act disabled={busy} onClick={again} tip="As the shoot was delivered last time">
        Again as last time
      </Act>
      <Act onClick={() => open(`/ledger?frames=${ids}`)} tip="What is not as shot, and how it was made">
        Ledger
      </Act>
      <Act
        disabled={busy}
        onClick={remove}
        tip="Out of the shoot; they can be brought back for thirty days, and your own files stay"
      >
        Remove
      </Act>
      {said && (
        <Text role={said.bad ? "alert" : "status"} color={said.bad ? "alarm" : "soft"} truncate>
          {said.text}
        </Text>
      )}
      <Spacer />
      <Act onClick={() => choose(shoot.frames.map((frame) => frame.id))}>All</Act>
      <Act onClick={() => choose([])}>None</Act>
    </Flex>
  );
}
